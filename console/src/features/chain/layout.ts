import dagre from "@dagrejs/dagre";
import { type ChainStep, linkLabel } from "./model";

export const NODE = { width: 176, height: 66 };
const GAP = { between: 20, after: 46, edge: 12 };

type Graph = InstanceType<typeof dagre.graphlib.Graph>;

export type Point = { x: number; y: number };

export type Placed = { step: ChainStep; x: number; y: number };
export type Arrow = { id: string; from: string; to: string; on: string; label: string; index: number; points: Point[] };
export type Laid = { nodes: Placed[]; arrows: Arrow[]; width: number; height: number };

/** Places the steps of a chain from left to right; those at the very end stand behind all others. */
export function layOut(steps: ChainStep[]): Laid {
  const graph = new dagre.graphlib.Graph();
  graph.setGraph({ rankdir: "LR", nodesep: GAP.between, ranksep: GAP.after, marginx: GAP.edge, marginy: GAP.edge });
  graph.setDefaultEdgeLabel(() => ({}));
  for (const step of steps) graph.setNode(step.step, { ...NODE });
  const arrows = arrowsOf(steps);
  for (const arrow of arrows) graph.setEdge(arrow.from, arrow.to);
  dagre.layout(graph);
  const nodes = steps.map((step) => {
    const at = graph.node(step.step) as Point;
    return { step, x: at.x - NODE.width / 2, y: at.y - NODE.height / 2 };
  });
  const routed = arrows.map((arrow) => ({ ...arrow, points: way(graph, arrow) }));
  const size = graph.graph();
  return { nodes, arrows: routed, width: size.width ?? 0, height: size.height ?? 0 };
}

/**
 * A layout with the steps as they are now, found in no time: what was placed stays where it was, and what is new stands behind
 * what it follows, or below all.
 */
export function beside(before: Laid, steps: ChainStep[]): Laid {
  const known = new Map(before.nodes.map((node) => [node.step.step, node]));
  const places = new Map<string, Point>();
  for (const step of steps) {
    const at = known.get(step.step);
    if (at) places.set(step.step, { x: at.x, y: at.y });
  }
  const taken = new Set([...places.values()].map(({ x, y }) => `${x} ${y}`));
  for (const step of steps) {
    if (places.has(step.step)) continue;
    const follows = step.links.flatMap((link) => places.get(link.after) ?? []);
    const last = follows.sort((one, other) => other.x - one.x)[0];
    const at = last
      ? { x: last.x + NODE.width + GAP.after, y: last.y }
      : { x: GAP.edge, y: before.height - GAP.edge + GAP.between };
    while (taken.has(`${at.x} ${at.y}`)) at.y += NODE.height + GAP.between;
    taken.add(`${at.x} ${at.y}`);
    places.set(step.step, at);
  }
  const ways = new Map(before.arrows.map((arrow) => [arrow.id, arrow.points]));
  const nodes = steps.map((step) => ({ step, ...(places.get(step.step) as Point) }));
  return {
    nodes,
    arrows: arrowsOf(steps).map((arrow) => ({ ...arrow, points: ways.get(arrow.id) ?? straight(places, arrow) })),
    width: Math.max(before.width, ...nodes.map(({ x }) => x + NODE.width + GAP.edge)),
    height: Math.max(before.height, ...nodes.map(({ y }) => y + NODE.height + GAP.edge)),
  };
}

function straight(places: Map<string, Point>, { from, to }: Arrow): Point[] {
  const start = places.get(from) as Point;
  const end = places.get(to) as Point;
  return [
    { x: start.x + NODE.width, y: start.y + NODE.height / 2 },
    { x: end.x, y: end.y + NODE.height / 2 },
  ];
}

function arrowsOf(steps: ChainStep[]): Arrow[] {
  const names = new Set(steps.map((step) => step.step));
  const arrows: Arrow[] = [];
  for (const step of steps) {
    step.links.forEach((link, index) => {
      if (!names.has(link.after)) return;
      const id = `${link.after}>${step.step}#${index}`;
      arrows.push({ id, from: link.after, to: step.step, on: link.on, label: linkLabel(link), index, points: [] });
    });
  }
  return [...arrows, ...lastOnes(steps)];
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
function lastOnes(steps: ChainStep[]): Arrow[] {
  const followed = new Set(steps.filter((step) => !step.last).flatMap((step) => step.links.map((link) => link.after)));
  const ends = steps.filter((step) => !step.last && !followed.has(step.step));
  const first = steps.filter((step) => step.last && step.links.length === 0);
  return first.flatMap((step) =>
    ends.map((end) => ({
      id: `${end.step}>>${step.step}`,
      from: end.step,
      to: step.step,
      on: "end",
      label: "",
      index: -1,
      points: [],
    })),
  );
}
