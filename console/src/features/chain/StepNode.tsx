import Box from "@mui/material/Box";
import { Handle, type Node, type NodeProps, Position } from "@xyflow/react";
import { StateMark } from "../../ui/StateMark";
import { durationWords, millis } from "../../ui/times";
import { useNow } from "../../ui/useNow";
import { NODE } from "./layout";
import type { ChainStep } from "./model";

export type StepNodeData = { step: ChainStep; critical: boolean; found: boolean; editable: boolean };
export type StepFlowNode = Node<StepNodeData, "step">;

/** A step in the picture of a chain. */
export function StepNode({ data, selected }: NodeProps<StepFlowNode>) {
  const { step, critical, found, editable } = data;
  const handle = { opacity: editable ? 1 : 0, width: 9, height: 9 };
  return (
    <Box
      sx={{
        width: NODE.width,
        height: NODE.height,
        px: 1.25,
        py: 0.75,
        boxSizing: "border-box",
        bgcolor: "background.paper",
        border: critical ? 2 : 1,
        borderStyle: step.last ? "double" : step.goesOn ? "dashed" : "solid",
        borderWidth: step.last ? 3 : undefined,
        borderColor: selected ? "primary.main" : critical ? "text.primary" : "text.secondary",
        outline: selected || found ? 2 : 0,
        outlineStyle: "solid",
        outlineColor: selected ? "primary.main" : "outcome.amber",
        borderRadius: 0.8,
        opacity: step.state === "out-of-reach" ? 0.55 : 1,
        fontSize: "0.78rem",
        lineHeight: 1.3,
        overflow: "hidden",
      }}
    >
      <Handle type="target" position={Position.Left} style={handle} isConnectable={editable} />
      <Box sx={{ display: "flex", gap: 0.75, alignItems: "center" }}>
        {step.state && <StateMark state={step.state} word={false} />}
        <Box sx={{ fontWeight: 650, whiteSpace: "nowrap", overflow: "hidden", textOverflow: "ellipsis" }}>
          {step.step}
        </Box>
        {step.turn !== undefined && step.turn > 1 && <Box sx={{ ml: "auto" }}>×{step.turn}</Box>}
      </Box>
      <Line text={step.does} />
      {step.state ? <Sofar step={step} /> : <Line text={step.when ? `where ${step.when}` : ""} />}
      <Handle type="source" position={Position.Right} style={handle} isConnectable={editable} />
    </Box>
  );
}

function Line({ text }: { text: string }) {
  return (
    <Box
      title={text}
      sx={{ color: "text.secondary", whiteSpace: "nowrap", overflow: "hidden", textOverflow: "ellipsis" }}
    >
      {text}
    </Box>
  );
}

/** How long it took, or has taken so far against its usual; else why it waits, or does not run. */
function Sofar({ step }: { step: ChainStep }) {
  const now = useNow(1_000);
  if (step.state === "running" && step.from) {
    const sofar = durationWords(Math.max(0, now - new Date(step.from).getTime()));
    return <Line text={step.usual ? `${sofar} of usually ${durationWords(millis(step.usual))}` : sofar} />;
  }
  const took = step.run?.took ? durationWords(millis(step.run.took)) : "";
  const said = step.state === "succeeded" && step.run ? "" : (step.message ?? "");
  return <Line text={[took, said].filter((part) => part !== "").join(" · ")} />;
}
