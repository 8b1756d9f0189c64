import Autocomplete from "@mui/material/Autocomplete";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { lazy, memo, Suspense, startTransition, useCallback, useDeferredValue, useMemo, useState } from "react";
import { LazyField } from "../../ui/LazyField";
import { useJobs } from "../jobs/useJobs";
import {
  addLink,
  addStep,
  type ChainDraft,
  type DraftStep,
  removeLink,
  removeStep,
  renameStep,
  STEP_FIELDS,
  type StepField,
  setEnd,
  setStepField,
  setStepValues,
} from "./chainDraft";

const ChainGraph = lazy(() => import("./ChainGraph"));

const DAY = "$" + "{day}";
const TOTAL = "$" + "{settle.values.total}";

const LABELS: Record<StepField, [string, string]> = {
  job: ["Job", "a task or another chain"],
  over: ["Over the roster", "empty for a single run; { rows-of: STEP, that: failed } for rows of an earlier sweep"],
  pause: ["Pause", "such as 10 min"],
  when: ["Only where", "a condition on results, such as settle.values.total > 0"],
  join: ["Waits for", "all, any, or how many of the steps before"],
  matters: ["Matters", "no: its end does not count for that of the chain"],
  "go-on": ["Goes on", "yes: the chain does not wait for it"],
  "acts-as": ["Acts as", "another credential, for this chain only"],
  priority: ["Priority", "1 to 9, for this chain only"],
  "time-limit": ["Time limit", "for this chain only"],
  meeting: ["Meeting", "the name of the point where chains meet"],
  of: ["Of", `what the runs have in common, such as ${DAY}`],
  within: ["Within", "how long it waits for the others"],
  // biome-ignore lint/suspicious/noThenProperty: a key of definitions
  then: ["Then", "fail (usual) or go-on, where the others do not come"],
  "with-chains": ["With the chains", "their names with commas; empty for any one other"],
  "repeat.until": ["Again until", "a condition on its own result, such as check.values.open == 0"],
  "repeat.times": ["At most times", "how often it is done at most"],
  "repeat.every": ["Again after", "such as 2 min"],
  "approval.by.team": ["Asks the team", "whose people may say"],
  "approval.by.role": ["Least role", "viewer, operator (usual), editor or manager"],
  "approval.asks": ["Question", `may show results: Pay ${TOTAL}?`],
  "approval.within": ["Answer within", "such as 2 h; empty for as long as they like"],
  "approval.then": ["If nobody answers", "fail (usual) or go-on"],
  "approval.not-by-starter": ["Not by the starter", "yes: somebody else has to say"],
  "approval.tells": ["Mails the question to", "addresses with commas"],
};

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

type FieldsProps = Omit<Props, "text"> & { step: DraftStep; onSelect: (step: string) => void };

const StepFields = memo(function StepFields({ step, chain, onEdit, onSelect }: FieldsProps) {
  const jobs = (useJobs("", "").data ?? []).map((job) => job.name);
  const fields = STEP_FIELDS[step.kind === "sweep" ? "job" : step.kind];
  const others = chain.steps.map((each) => each.step).filter((name) => name !== step.step);
  const write = (field: StepField, value: string) => onEdit((was) => setStepField(was, step.step, field, value));
  return (
    <Box component="section" aria-label={`Step ${step.step}`} sx={{ display: "grid", gap: 1.5 }}>
      <Box sx={{ display: "grid", gap: 1.5, gridTemplateColumns: "repeat(auto-fill, minmax(min(100%, 210px), 1fr))" }}>
        <LazyField
          label="Step"
          value={step.step}
          onCommit={(name) => {
            if (name && !others.includes(name)) {
              onEdit((was) => renameStep(was, step.step, name));
              onSelect(name);
            }
          }}
        />
        {fields.map((field) =>
          field === "job" ? (
            <Autocomplete
              key={field}
              freeSolo
              options={jobs}
              inputValue={step.fields.job ?? ""}
              onInputChange={(_, value, why) => why !== "reset" && write("job", value)}
              onChange={(_, value) => value && write("job", value)}
              renderInput={(params) => <TextField {...params} label="Job" helperText={LABELS.job[1]} />}
            />
          ) : (
            <LazyField
              key={field}
              label={LABELS[field][0]}
              value={step.fields[field] ?? ""}
              help={LABELS[field][1]}
              onCommit={(value) => write(field, value)}
            />
          ),
        )}
      </Box>
      {(step.kind === "job" || step.kind === "sweep") && (
        <LazyField
          label="With"
          value={step.with}
          multiline
          help="values for the job's parameters, NAME=VALUE a line; ${day} is a parameter, ${settle.values.total} a result"
          onCommit={(value) => onEdit((was) => setStepValues(was, step.step, value))}
        />
      )}
      <Box sx={{ display: "grid", gap: 1 }}>
        {step.links.map((link) => (
          <Box key={link.after} sx={{ display: "flex", gap: 1, alignItems: "center" }}>
            <Box sx={{ minWidth: 140 }}>after {link.after}, on</Box>
            <TextField
              select
              value={link.on}
              onChange={(event) => onEdit((was) => setEnd(was, link.after, step.step, event.target.value))}
              slotProps={{ htmlInput: { "aria-label": `On which end of ${link.after}` } }}
              sx={{ width: 130 }}
            >
              {["success", "warnings", "failure", "any"].map((end) => (
                <MenuItem key={end} value={end}>
                  {end}
                </MenuItem>
              ))}
            </TextField>
            <Button onClick={() => onEdit((was) => removeLink(was, link.after, step.step))}>Unlink</Button>
          </Box>
        ))}
        <Box sx={{ display: "flex", gap: 1, alignItems: "center", flexWrap: "wrap" }}>
          <TextField
            select
            label="Let it follow"
            value=""
            onChange={(event) => onEdit((was) => addLink(was, event.target.value, step.step))}
            sx={{ width: 220 }}
          >
            {others
              .filter((name) => !step.links.some((link) => link.after === name))
              .map((name) => (
                <MenuItem key={name} value={name}>
                  {name}
                </MenuItem>
              ))}
          </TextField>
          <Button
            color="error"
            onClick={() => {
              onSelect("");
              onEdit((was) => removeStep(was, step.step));
            }}
          >
            Take {step.step} away
          </Button>
        </Box>
      </Box>
    </Box>
  );
});
