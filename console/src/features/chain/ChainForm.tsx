import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { lazy, Suspense, startTransition, useCallback, useDeferredValue, useMemo, useState } from "react";
import { addLink, addStep, type ChainDraft, removeLink, removeStep } from "./chainDraft";
import { StepFields } from "./StepFields";

const ChainGraph = lazy(() => import("./ChainGraph"));

const KINDS = [
  ["job", "Job"],
  ["pause", "Pause"],
  ["approval", "Approval"],
  ["meeting", "Meeting"],
];

type Props = { chain: ChainDraft; text: string; onEdit: (edit: (text: string) => string) => void };

/** A chain drawn, to be changed by mouse, by keyboard and by form. */
export function ChainForm({ chain, text, onEdit }: Props) {
  const [selected, setSelected] = useState("");
  // what is typed and clicked goes first; the picture and the fields follow in pieces that no frame waits for
  const now = useMemo(() => ({ chain, selected }), [chain, selected]);
  const shown = useDeferredValue(now);
  const step = shown.chain.steps.find((each) => each.step === shown.selected);
  const link = useCallback((from: string, to: string) => onEdit((was) => addLink(was, from, to)), [onEdit]);
  const unlink = useCallback((from: string, to: string) => onEdit((was) => removeLink(was, from, to)), [onEdit]);
  const remove = useCallback(
    (name: string) => {
      setSelected("");
      onEdit((was) => removeStep(was, name));
    },
    [onEdit],
  );
  const add = (kind: string, last = false) => {
    const added = addStep(text, kind, last ? "" : selected, last);
    startTransition(() => {
      onEdit(() => added.text);
      setSelected(added.name);
    });
  };
  return (
    <Box sx={{ display: "grid", gap: 1.5, gridTemplateColumns: "minmax(0, 1fr)" }}>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, alignItems: "center" }}>
        <Typography color="textSecondary" sx={{ fontSize: "0.82rem" }}>
          Add after {selected || "nothing"}:
        </Typography>
        {KINDS.map(([kind, label]) => (
          <Button key={kind} variant="outlined" onClick={() => add(kind)}>
            {label}
          </Button>
        ))}
        <Button onClick={() => add("job", true)}>Job at the very end</Button>
        <Typography color="textSecondary" sx={{ fontSize: "0.8rem", ml: "auto" }}>
          Draw from dot to dot to link; Delete takes away what is chosen; Tab and Enter choose.
        </Typography>
      </Box>
      <Box sx={{ border: 1, borderColor: "divider", borderRadius: 0.8 }}>
        <Suspense fallback={<Box sx={{ height: 240 }} />}>
          <ChainGraph
            steps={shown.chain.steps}
            selected={shown.selected}
            onSelect={setSelected}
            onLink={link}
            onUnlink={unlink}
            onRemove={remove}
          />
        </Suspense>
      </Box>
      {step ? (
        <StepFields step={step} chain={shown.chain} onEdit={onEdit} onSelect={setSelected} />
      ) : (
        <Typography color="textSecondary">Choose a step to change it.</Typography>
      )}
    </Box>
  );
}
