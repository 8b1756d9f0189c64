import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import FormControlLabel from "@mui/material/FormControlLabel";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { useForm } from "react-hook-form";
import { Refused } from "../../api/client";
import type { Job } from "../../api/types";
import { Trouble } from "../../ui/Trouble";
import { OverField } from "./OverField";
import { ParameterField } from "./ParameterField";
import { RehearsalView } from "./Rehearsal";
import { type Over, useRehearse, useStart } from "./useJobs";

/** Starts a job by hand; the form is built from its parameters. */
export function StartDialog({ job, onClose }: { job: Job; onClose: () => void }) {
  const start = useStart(job.name);
  // one key for one dialogue: pressing twice starts once
  const [key] = useState(() =>
    Array.from(crypto.getRandomValues(new Uint8Array(12)), (byte) => byte.toString(16)).join(""),
  );
  const { register, handleSubmit } = useForm<Record<string, string>>();
  const rehearse = useRehearse(job.name);
  const [skipGates, setSkipGates] = useState(false);
  const [over, setOver] = useState<Over>({ roster: "", rows: "all" });
  const error = start.error ?? rehearse.error;
  const problems = error instanceof Refused ? error.problems : [];
  const complaint = (name: string) => problems.find((wrong) => wrong.field === name)?.message;
  const known = (field?: string) => job.parameters.some((parameter) => parameter.name === field);
  const elsewhere = problems.every((wrong) => known(wrong.field)) && problems.length > 0 ? undefined : error;
  const given = (form: Record<string, string>) =>
    Object.fromEntries(Object.entries(form).filter(([, value]) => value !== "" && value !== undefined));
  const submit = (form: Record<string, string>) => {
    rehearse.reset();
    start.mutate({
      parameters: given(form),
      over: over.roster ? over : undefined,
      skipGates: skipGates || undefined,
      key: problems.length > 0 ? `${key}-${Date.now()}` : key,
    });
  };
  const tryOut = (form: Record<string, string>) => {
    start.reset();
    rehearse.mutate({ parameters: given(form), over: over.roster });
  };
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="start-title">
      <form onSubmit={handleSubmit(submit)} noValidate style={{ display: "contents" }}>
        <DialogTitle id="start-title">Start {job.name}</DialogTitle>
        <DialogContent sx={{ display: "grid", gap: 2, pt: "8px !important" }}>
          {job.parameters.length === 0 && <Typography>It takes no values.</Typography>}
          {job.parameters.map((parameter) => (
            <ParameterField
              key={parameter.name}
              parameter={parameter}
              complaint={complaint(parameter.name)}
              field={register(parameter.name)}
            />
          ))}
          {job.parameters.length > 0 && <OverField over={over} onChange={setOver} />}
          {/^gates:/m.test(job.definition) && (
            <FormControlLabel
              control={<Checkbox checked={skipGates} onChange={(_, on) => setSkipGates(on)} />}
              label="Do not wait for its gates; that I chose so stands with the run"
            />
          )}
          <Trouble error={elsewhere} />
          {rehearse.data && <RehearsalView rehearsal={rehearse.data.body} />}
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Not now</Button>
          <Button onClick={handleSubmit(tryOut)} disabled={rehearse.isPending}>
            Rehearse
          </Button>
          <Button type="submit" variant="contained" disabled={start.isPending}>
            Start
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
