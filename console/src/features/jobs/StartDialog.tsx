import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import Typography from "@mui/material/Typography";
import { useEffect, useRef, useState } from "react";
import { useForm } from "react-hook-form";
import { Refused } from "../../api/client";
import type { Job } from "../../api/types";
import { FormDialog } from "../../ui/FormDialog";
import { Trouble } from "../../ui/Trouble";
import { isoDuration } from "../../ui/times";
import { OverField } from "./OverField";
import { ParameterField } from "./ParameterField";
import { RehearsalView } from "./Rehearsal";
import { type Over, useRehearse, useStart } from "./useJobs";

/** Starts a job by hand; the form is built from its parameters. */
type Props = {
  job: Job;
  /** Values to begin with, such as those of an earlier run. */
  values?: Record<string, string>;
  onClose: () => void;
};

export function StartDialog({ job, values, onClose }: Props) {
  const start = useStart(job.name);
  // one key for one dialogue: pressing twice starts once
  const [key] = useState(() =>
    Array.from(crypto.getRandomValues(new Uint8Array(12)), (byte) => byte.toString(16)).join(""),
  );
  const { register, handleSubmit, formState } = useForm<Record<string, string>>({ defaultValues: values });
  const rehearse = useRehearse(job.name);
  // what a rehearsal says is shown where one looks, however long the form is
  const result = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (rehearse.data) result.current?.scrollIntoView({ block: "start", behavior: "smooth" });
  }, [rehearse.data]);
  const [skipGates, setSkipGates] = useState(false);
  const [over, setOver] = useState<Over>({ roster: "", rows: "all" });
  const typeOf = (name: string) => job.parameters.find((parameter) => parameter.name === name)?.type;
  const error = start.error ?? rehearse.error;
  const problems = error instanceof Refused ? error.problems : [];
  const complaint = (name: string) => problems.find((wrong) => wrong.field === name)?.message;
  const known = (field?: string) => job.parameters.some((parameter) => parameter.name === field);
  const elsewhere = problems.every((wrong) => known(wrong.field)) && problems.length > 0 ? undefined : error;
  const given = (form: Record<string, string>) =>
    Object.fromEntries(
      Object.entries(form)
        .filter(([, value]) => value !== "" && value !== undefined)
        .map(([name, value]) => [name, typeOf(name) === "duration" ? isoDuration(value) : value]),
    );
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
    <FormDialog
      title={`Start ${job.name}`}
      changed={formState.isDirty && !start.isSuccess}
      onClose={onClose}
      actions={
        <>
          <Button onClick={handleSubmit(tryOut)} disabled={rehearse.isPending}>
            {rehearse.isPending ? "Rehearsing …" : "Rehearse"}
          </Button>
          <Button type="submit" form="start-form" variant="contained" disabled={start.isPending}>
            Start
          </Button>
        </>
      }
    >
      <form id="start-form" onSubmit={handleSubmit(submit)} noValidate style={{ display: "grid", gap: 16 }}>
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
        <Box ref={result} sx={{ minWidth: 0 }}>
          {rehearse.data && <RehearsalView rehearsal={rehearse.data.body} />}
        </Box>
      </form>
    </FormDialog>
  );
}
