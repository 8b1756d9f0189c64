import { useTheme } from "@mui/material/styles";
import {
  Background,
  type Connection,
  Controls,
  MarkerType,
  ReactFlow,
  ReactFlowProvider,
  useReactFlow,
} from "@xyflow/react";
import "@xyflow/react/dist/style.css";
import { memo, useEffect, useMemo, useRef, useState } from "react";
import type { Outcomes } from "../../theme";
import { type Laid, NODE } from "./layout";
import { type ChainStep, wasTaken } from "./model";
import { RouteEdge, type RouteFlowEdge } from "./RouteEdge";
import { type StepFlowNode, StepNode } from "./StepNode";
import { useLayout } from "./useLayout";

const NODE_TYPES = { step: StepNode };
const NONE: string[] = [];
/** The buttons of the picture stand at its left edge, in pixels. */
const EDGE = 52;
const EDGE_TYPES = { route: RouteEdge };
const NOTHING: Laid = { nodes: [], arrows: [], width: 0, height: 0 };

export type GraphProps = {
  steps: ChainStep[];
  critical?: string[];
  /** The step that is looked at. */
  selected: string;
  onSelect: (step: string) => void;
  find?: string;
  /** Whether the picture keeps the running steps in view. */
  follow?: boolean;
  height?: number;
  onLink?: (from: string, to: string) => void;
  onUnlink?: (from: string, to: string) => void;
  onRemove?: (step: string) => void;
};

/** A chain drawn from left to right. It can be moved, zoomed and walked through with the keyboard. */
export default memo(function ChainGraph(props: GraphProps) {
  return (
    <ReactFlowProvider>
      <Picture {...props} />
    </ReactFlowProvider>
  );
});

/** Gives each thing that says what it said before as the same object: only what changed is drawn again. */
function useSame<T extends { id: string }>(all: T[]): T[] {
  const before = useRef(new Map<string, { said: string; thing: T }>());
  return useMemo(() => {
    const next = new Map<string, { said: string; thing: T }>();
    const same = all.map((thing) => {
      const said = JSON.stringify(thing);
      const known = before.current.get(thing.id);
      const kept = known?.said === said ? known : { said, thing };
      next.set(thing.id, kept);
      return kept.thing;
    });
    before.current = next;
    return same;
  }, [all]);
}

function Picture(props: GraphProps) {
  const { steps, critical = NONE, selected, onSelect, find = "", follow = false, onLink, onUnlink, onRemove } = props;
  const theme = useTheme();
  const editable = onLink !== undefined;
  const laid = useLayout(steps) ?? NOTHING;
  const [fitted, setFitted] = useState(false);
  const drawnNodes = useMemo(() => {
    const byName = new Map(steps.map((step) => [step.step, step]));
    return laid.nodes.map(({ step, x, y }): StepFlowNode => {
      const now = byName.get(step.step) ?? step;
      return {
        id: step.step,
        type: "step",
        position: { x, y },
        width: NODE.width,
        height: NODE.height,
        selected: step.step === selected,
        ariaLabel: `${now.step}, ${now.does}, ${now.linksInWords}${now.state ? `, ${now.state}` : ""}`,
        data: { step: now, critical: critical.includes(step.step), found: isFound(now, find), editable },
      };
    });
  }, [laid, steps, critical, selected, find, editable]);
  const nodes = useSame(drawnNodes);
  const drawnEdges = useMemo(() => {
    const byName = new Map(steps.map((step) => [step.step, step]));
    return laid.arrows.map((arrow): RouteFlowEdge => {
      const step = byName.get(arrow.to);
      const link = step?.links[arrow.index];
      const taken = step !== undefined && link !== undefined && wasTaken(link, step, steps);
      const heavy = critical.includes(arrow.from) && critical.includes(arrow.to) && taken;
      const colour = colourOf(arrow.on, theme.palette.outcome, theme.palette.text.secondary);
      return {
        id: arrow.id,
        type: "route",
        data: { points: arrow.points },
        source: arrow.from,
        target: arrow.to,
        label: arrow.label || undefined,
        selectable: editable && arrow.index >= 0,
        deletable: editable && arrow.index >= 0,
        markerEnd: {
          type: MarkerType.ArrowClosed,
          color: colour,
          width: 14,
          height: 14,
          markerUnits: "userSpaceOnUse",
        },
        style: {
          stroke: colour,
          strokeWidth: heavy ? 3 : taken ? 2 : 1.2,
          strokeDasharray: arrow.on === "success" ? undefined : arrow.on === "end" ? "2 5" : "6 4",
          opacity: arrow.on === "end" ? 0.5 : 1,
        },
        labelStyle: { fill: theme.palette.text.primary, fontSize: 11 },
        labelBgStyle: { fill: theme.palette.background.paper, fillOpacity: 0.9 },
      };
    });
  }, [laid, steps, critical, editable, theme]);
  const edges = useSame(drawnEdges);
  // what is shown first is fitted into the window, so it waits for the places
  if (laid === NOTHING && steps.length > 0) return <div style={{ height: props.height ?? 560 }} />;
  // and is neither seen nor grasped before: what is drawn to a step that jumps away would be lost
  const jumps = !fitted && nodes.length > 0;
  return (
    <div
      inert={jumps}
      style={{
        height: props.height ?? Math.min(560, Math.max(190, laid.height + 40)),
        opacity: jumps ? 0 : undefined,
      }}
    >
      <ReactFlow
        nodes={nodes}
        edges={edges}
        nodeTypes={NODE_TYPES}
        edgeTypes={EDGE_TYPES}
        colorMode={theme.palette.mode}
        style={{ backgroundColor: theme.palette.background.paper }}
        onInit={async (flow) => {
          await flow.fitView({ maxZoom: 1, minZoom: 0.6, padding: { x: 0.04, y: 0.04, left: `${EDGE}px` } });
          const { x, y, zoom } = flow.getViewport();
          // what is longer than the window is read from its beginning
          if (x < 0) await flow.setViewport({ x: EDGE, y, zoom });
          setFitted(true);
        }}
        minZoom={0.15}
        maxZoom={2}
        nodesDraggable={false}
        nodesConnectable={editable}
        elementsSelectable
        onlyRenderVisibleElements
        deleteKeyCode={editable ? ["Delete", "Backspace"] : null}
        onNodesChange={(changes) => {
          for (const change of changes) if (change.type === "select" && change.selected) onSelect(change.id);
        }}
        onNodeClick={(_, node) => onSelect(node.id)}
        onPaneClick={() => onSelect("")}
        onConnect={(made: Connection) => onLink?.(made.source, made.target)}
        onDelete={({ nodes: gone, edges: cut }) => {
          if (gone.length > 0) for (const node of gone) onRemove?.(node.id);
          else for (const edge of cut) onUnlink?.(edge.source, edge.target);
        }}
        proOptions={{ hideAttribution: true }}
        aria-label="The chain as a picture"
      >
        <Background gap={22} size={0.7} color={theme.palette.divider} bgColor={theme.palette.background.paper} />
        <Controls showInteractive={false} />
        <InView steps={steps} find={find} follow={follow} nodes={nodes} />
      </ReactFlow>
    </div>
  );
}

const isFound = (step: ChainStep, find: string) =>
  find !== "" && `${step.step} ${step.does}`.toLowerCase().includes(find.toLowerCase());

function colourOf(on: string, outcome: Outcomes, usual: string): string {
  if (on === "failure") return outcome.bad;
  return on === "warnings" ? outcome.amber : usual;
}

/** Keeps in view what runs, or what was looked for. */
function InView(props: { steps: ChainStep[]; find: string; follow: boolean; nodes: StepFlowNode[] }) {
  const flow = useReactFlow();
  const wanted = props.nodes
    .filter((node) => (props.find === "" ? props.follow && node.data.step.state === "running" : node.data.found))
    .map((node) => node.id);
  const key = wanted.join(" ");
  useEffect(() => {
    if (key !== "") {
      flow.fitView({
        nodes: key.split(" ").map((id) => ({ id })),
        maxZoom: 1,
        minZoom: 0.5,
        padding: 0.3,
        duration: 300,
      });
    }
  }, [flow, key]);
  return null;
}
