import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { useForm } from "react-hook-form";
import { Refused } from "../../api/client";
import type { Job } from "../../api/types";
import { Trouble } from "../../ui/Trouble";
import { ParameterField } from "./ParameterField";
import { useStart } from "./useJobs";

/** Starts a job by hand; the form is built from its parameters. */
export function StartDialog({ job, onClose }: { job: Job; onClose: () => void }) {
  const start = useStart(job.name);
  // one key for one dialogue: pressing twice starts once
  const [key] = useState(() =>
    Array.from(crypto.getRandomValues(new Uint8Array(12)), (byte) => byte.toString(16)).join(""),
  );
  const { register, handleSubmit } = useForm<Record<string, string>>();
  const problems = start.error instanceof Refused ? start.error.problems : [];
  const complaint = (name: string) => problems.find((wrong) => wrong.field === name)?.message;
  const elsewhere = problems.length === 0 ? start.error : undefined;
  const submit = (form: Record<string, string>) => {
    const given = Object.entries(form).filter(([, value]) => value !== "" && value !== undefined);
    start.mutate({ parameters: Object.fromEntries(given), key: problems.length > 0 ? `${key}-${Date.now()}` : key });
  };
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="start-title">
      <form onSubmit={handleSubmit(submit)} noValidate>
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
          <Trouble error={elsewhere} />
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Not now</Button>
          <Button type="submit" variant="contained" disabled={start.isPending}>
            Start
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
