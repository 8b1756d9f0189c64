import { BaseEdge, type Edge, type EdgeProps } from "@xyflow/react";
import { curve, type Point } from "./layout";

export type RouteFlowEdge = Edge<{ points: Point[] }, "route">;

/** An arrow along the way that the layout found for it, around the steps between. */
export function RouteEdge({ id, data, label, labelStyle, labelBgStyle, markerEnd, style }: EdgeProps<RouteFlowEdge>) {
  const points = data?.points ?? [];
  const middle = points[Math.floor(points.length / 2)] ?? { x: 0, y: 0 };
  return (
    <BaseEdge
      id={id}
      path={curve(points)}
      label={label}
      labelX={middle.x}
      labelY={middle.y}
      labelStyle={labelStyle}
      labelBgStyle={labelBgStyle}
      markerEnd={markerEnd}
      style={style}
    />
  );
}
