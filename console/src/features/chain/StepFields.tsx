import Autocomplete from "@mui/material/Autocomplete";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { memo, useCallback, useMemo } from "react";
import { LazyField } from "../../ui/LazyField";
import { usePieces } from "../../ui/usePieces";
import { useJobs } from "../jobs/useJobs";
import {
  addLink,
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

type Edit = (edit: (text: string) => string) => void;

type Props = { step: DraftStep; chain: ChainDraft; onEdit: Edit; onSelect: (step: string) => void };

/** The fields of a step. They are costly to draw, so they come in pieces. */
export const StepFields = memo(function StepFields({ step, chain, onEdit, onSelect }: Props) {
  const known = useJobs("", "").data;
  const jobs = useMemo(() => (known ?? []).map((job) => job.name), [known]);
  const fields = STEP_FIELDS[step.kind === "sweep" ? "job" : step.kind];
  const others = chain.steps.map((each) => each.step).filter((name) => name !== step.step);
  // the name, each field, and what stands below them
  const there = usePieces(fields.length + 2, step.kind);
  return (
    <Box component="section" aria-label={`Step ${step.step}`} sx={{ display: "grid", gap: 1.5 }}>
      <Box sx={{ display: "grid", gap: 1.5, gridTemplateColumns: "repeat(auto-fill, minmax(min(100%, 210px), 1fr))" }}>
        {there > 0 && (
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
        )}
        {fields.slice(0, Math.max(0, there - 1)).map((field) => (
          <Field
            key={field}
            step={step.step}
            field={field}
            value={step.fields[field] ?? ""}
            jobs={jobs}
            onEdit={onEdit}
          />
        ))}
      </Box>
      {there > fields.length + 1 && (
        <>
          {(step.kind === "job" || step.kind === "sweep") && (
            <LazyField
              label="With"
              value={step.with}
              multiline
              help="values for the job's parameters, NAME=VALUE a line; ${day} is a parameter, ${settle.values.total} a result"
              onCommit={(value) => onEdit((was) => setStepValues(was, step.step, value))}
            />
          )}
          <Links step={step} others={others} onEdit={onEdit} onSelect={onSelect} />
        </>
      )}
    </Box>
  );
});

type FieldProps = { step: string; field: StepField; value: string; jobs: string[]; onEdit: Edit };

const Field = memo(function Field({ step, field, value, jobs, onEdit }: FieldProps) {
  const write = useCallback(
    (written: string) => onEdit((was) => setStepField(was, step, field, written)),
    [onEdit, step, field],
  );
  const [label, help] = LABELS[field];
  return field === "job" ? (
    <Autocomplete
      freeSolo
      options={jobs}
      inputValue={value}
      onInputChange={(_, typed, why) => why !== "reset" && write(typed)}
      onChange={(_, chosen) => chosen && write(chosen)}
      renderInput={(params) => <TextField {...params} label={label} helperText={help} />}
    />
  ) : (
    <LazyField label={label} value={value} help={help} onCommit={write} />
  );
});

/** What a step follows, and how to take it away. */
function Links({ step, others, onEdit, onSelect }: Omit<Props, "chain"> & { others: string[] }) {
  return (
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
  );
}
