import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import type { RunDetail } from "../../api/types";
import { FormDialog } from "../../ui/FormDialog";
import { Trouble } from "../../ui/Trouble";
import { useDeed } from "./useChain";

const MASK = "••••••";

/** What can be done with the run of a chain as a whole: go on where it broke, hold it, let it go. */
export function ChainActions({ run }: { run: RunDetail }) {
  const [asking, setAsking] = useState(false);
  const deed = useDeed(run.number);
  const ended = run.state !== "running" && run.state !== "waiting";
  const broken = (run.steps ?? []).some((step) => ["failed", "timed-out", "cancelled"].includes(step.state));
  const cut = ended && run.state === "cancelled";
  const mayGoOn = run.mayDo.includes("start-runs") && run.parent === undefined && (broken || cut);
  const mayHold = run.mayDo.includes("cancel-runs") && !ended;
  return (
    <>
      {mayHold && (
        <Button disabled={deed.isPending} onClick={() => deed.mutate({ what: run.chain?.held ? "let-go" : "hold" })}>
          {run.chain?.held ? "Let it go on" : "Hold"}
        </Button>
      )}
      {mayGoOn && (
        <Button variant="contained" onClick={() => setAsking(true)}>
          Go on …
        </Button>
      )}
      <Trouble error={asking ? null : deed.error} />
      {asking && <GoOnDialog run={run} onClose={() => setAsking(false)} />}
    </>
  );
}

function GoOnDialog({ run, onClose }: { run: RunDetail; onClose: () => void }) {
  const [values, setValues] = useState<Record<string, string>>({});
  const [note, setNote] = useState("");
  const deed = useDeed(run.number);
  const bad = (run.steps ?? [])
    .filter((step) => ["failed", "timed-out", "cancelled"].includes(step.state))
    .map((step) => step.step);
  const changed = Object.fromEntries(
    Object.entries(values).filter(([name, value]) => value !== "" && value !== run.parameters[name]),
  );
  return (
    <FormDialog
      title={`Go on with run ${run.number}?`}
      changed={(Object.keys(changed).length > 0 || note !== "") && !deed.isSuccess}
      onClose={onClose}
      actions={
        <Button
          variant="contained"
          disabled={deed.isPending}
          onClick={() =>
            deed.mutate({ what: "go-on", parameters: changed, note: note.trim() || undefined }, { onSuccess: onClose })
          }
        >
          Go on
        </Button>
      }
    >
      <Box>
        {bad.length > 0 ? `It goes on from ${bad.join(" and ")}` : "It goes on where it was stopped"}, in this run. What
        went well is not done again; what follows is.
      </Box>
      {Object.entries(run.parameters).map(([name, value]) => (
        <TextField
          key={name}
          label={name}
          defaultValue={value === MASK ? "" : value}
          placeholder={value === MASK ? "as before" : undefined}
          onChange={(event) => setValues((before) => ({ ...before, [name]: event.target.value }))}
          sx={{ mt: 0.5 }}
        />
      ))}
      <TextField
        label="Why (a note for the others)"
        value={note}
        slotProps={{ htmlInput: { maxLength: 300 } }}
        onChange={(event) => setNote(event.target.value)}
      />
      <Trouble error={deed.error} />
    </FormDialog>
  );
}
