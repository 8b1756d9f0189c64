import Autocomplete from "@mui/material/Autocomplete";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Chip from "@mui/material/Chip";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { type FormEvent, useState } from "react";
import { Panel } from "../../ui/Panel";
import { Trouble } from "../../ui/Trouble";
import { useJobs } from "../jobs/useJobs";
import { useLanes } from "../lanes/useLanes";
import { useSchedules } from "../schedules/useSchedules";
import { inWords, KINDS, supposition, withOne } from "./supposing";

type Props = {
  supposed: string[];
  /** What was wrong with what is supposed. */
  error: unknown;
  onChange: (supposed: string[]) => void;
};

/** How it would be with another width, length or rule; nothing of it is saved. */
export function WhatIf({ supposed, error, onChange }: Props) {
  const [kind, setKind] = useState<(typeof KINDS)[number]>(KINDS[0]);
  const [name, setName] = useState("");
  const [value, setValue] = useState("");
  const lanes = useLanes();
  const jobs = useJobs("", "");
  const schedules = useSchedules();
  const names: Record<string, string[]> = {
    lane: (lanes.data ?? []).map((lane) => lane.name),
    // a chain takes as long as its steps
    duration: (jobs.data ?? []).filter((job) => job.kind === "task").map((job) => job.name),
    schedule: (schedules.data ?? []).map((schedule) => `${schedule.job}/${schedule.name}`),
  };
  const ready = value.trim() !== "" && (!kind.of || name.trim() !== "");
  const add = (event: FormEvent) => {
    event.preventDefault();
    if (!ready) return;
    onChange(withOne(supposed, supposition(kind, name, value)));
    setValue("");
  };
  return (
    <Box sx={{ mb: 1.5 }}>
      <Panel title="What if">
        <Box
          component="form"
          aria-label="Suppose something"
          onSubmit={add}
          sx={{ display: "flex", flexWrap: "wrap", gap: 1, alignItems: "flex-start", pt: 0.75 }}
        >
          <TextField
            select
            size="small"
            label="Suppose"
            value={kind.key}
            onChange={(event) => {
              setKind(KINDS.find((each) => each.key === event.target.value) ?? KINDS[0]);
              setName("");
            }}
            sx={{ minWidth: 180 }}
          >
            {KINDS.map((each) => (
              <MenuItem key={each.key} value={each.key}>
                {each.label}
              </MenuItem>
            ))}
          </TextField>
          {kind.of && (
            <Autocomplete
              freeSolo
              size="small"
              options={names[kind.key] ?? []}
              inputValue={name}
              onInputChange={(_, text) => setName(text)}
              sx={{ width: 260 }}
              renderInput={(field) => <TextField {...field} label={`Of which ${kind.of}`} />}
            />
          )}
          <TextField
            size="small"
            label="To be"
            placeholder={kind.example}
            value={value}
            onChange={(event) => setValue(event.target.value)}
            slotProps={{ inputLabel: { shrink: true } }}
          />
          <Button type="submit" variant="outlined" disabled={!ready}>
            Suppose
          </Button>
        </Box>
        {supposed.length > 0 && (
          <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.75, mt: 1.25, alignItems: "center" }}>
            <span>If</span>
            {supposed.map((each) => (
              <Chip
                key={each}
                size="small"
                label={inWords(each)}
                onDelete={() => onChange(supposed.filter((other) => other !== each))}
              />
            ))}
            <Button onClick={() => onChange([])}>As it is</Button>
          </Box>
        )}
        <Trouble error={error} />
        <Typography variant="body2" color="textSecondary" sx={{ mt: 1 }}>
          Nothing of this is saved. The address of this page keeps what is supposed, so it can be shown to others.
        </Typography>
      </Panel>
    </Box>
  );
}
