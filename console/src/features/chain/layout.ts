import dagre from "@dagrejs/dagre";
import { type ChainStep, linkLabel } from "./model";

export const NODE = { width: 176, height: 66 };

type Graph = InstanceType<typeof dagre.graphlib.Graph>;

export type Point = { x: number; y: number };

export type Placed = { step: ChainStep; x: number; y: number };
export type Arrow = { id: string; from: string; to: string; on: string; label: string; index: number; points: Point[] };
export type Laid = { nodes: Placed[]; arrows: Arrow[]; width: number; height: number };

/** Places the steps of a chain from left to right; those at the very end stand behind all others. */
export function layOut(steps: ChainStep[]): Laid {
  const graph = new dagre.graphlib.Graph();
  graph.setGraph({ rankdir: "LR", nodesep: 20, ranksep: 46, marginx: 12, marginy: 12 });
  graph.setDefaultEdgeLabel(() => ({}));
  const names = new Set(steps.map((step) => step.step));
  for (const step of steps) graph.setNode(step.step, { ...NODE });
  const arrows: Arrow[] = [];
  for (const step of steps) {
    step.links.forEach((link, index) => {
      if (!names.has(link.after)) return;
      graph.setEdge(link.after, step.step);
      const id = `${link.after}>${step.step}#${index}`;
      arrows.push({ id, from: link.after, to: step.step, on: link.on, label: linkLabel(link), index, points: [] });
    });
  }
  arrows.push(...lastOnes(steps, graph));
  dagre.layout(graph);
  const nodes = steps.map((step) => {
    const at = graph.node(step.step) as Point;
    return { step, x: at.x - NODE.width / 2, y: at.y - NODE.height / 2 };
  });
  const routed = arrows.map((arrow) => ({ ...arrow, points: way(graph, arrow) }));
  const size = graph.graph();
  return { nodes, arrows: routed, width: size.width ?? 0, height: size.height ?? 0 };
}

/** From the right side of one step to the left side of the other, around what stands between. */
function way(graph: Graph, { from, to }: Arrow): Point[] {
  const start = graph.node(from) as Point;
  const end = graph.node(to) as Point;
  const edge = graph.edge(from, to) as { points?: Point[] } | undefined;
  const between = edge?.points?.slice(1, -1) ?? [];
  return [
    { x: start.x + NODE.width / 2, y: start.y },
    ...between.filter((point) => point.x > start.x + NODE.width / 2 && point.x < end.x - NODE.width / 2),
    { x: end.x - NODE.width / 2, y: end.y },
  ];
}

const round = (value: number) => Math.round(value * 10) / 10;

/** A calm line through points, as a path of SVG: each piece leaves and arrives level. */
export function curve(points: Point[]): string {
  if (points.length < 2) return "";
  const at = (point: Point) => `${round(point.x)} ${round(point.y)}`;
  const pieces = points.slice(1).map((point, i) => {
    const middle = round((points[i].x + point.x) / 2);
    return `C${middle} ${round(points[i].y)} ${middle} ${round(point.y)} ${at(point)}`;
  });
  return `M${at(points[0])}${pieces.join("")}`;
}

/** Those at the very end follow all that nothing else follows. */
function lastOnes(steps: ChainStep[], graph: Graph): Arrow[] {
  const followed = new Set(steps.filter((step) => !step.last).flatMap((step) => step.links.map((link) => link.after)));
  const ends = steps.filter((step) => !step.last && !followed.has(step.step));
  const first = steps.filter((step) => step.last && step.links.length === 0);
  return first.flatMap((step) =>
    ends.map((end) => {
      graph.setEdge(end.step, step.step);
      return {
        id: `${end.step}>>${step.step}`,
        from: end.step,
        to: step.step,
        on: "end",
        label: "",
        index: -1,
        points: [],
      };
    }),
  );
}
