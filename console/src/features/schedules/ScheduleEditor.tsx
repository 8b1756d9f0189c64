import Autocomplete from "@mui/material/Autocomplete";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useNavigate } from "react-router";
import type { Job } from "../../api/types";
import { EditorNotes } from "../../ui/EditorNotes";
import { MomentField } from "../../ui/MomentField";
import { Panel } from "../../ui/Panel";
import { Trouble } from "../../ui/Trouble";
import { useAsk } from "../../ui/useAsk";
import { useEdited } from "../../ui/useEdited";
import { useCalendars } from "../calendars/useCalendars";
import { useSave } from "../jobs/useJobs";
import { Builder } from "./Builder";
import { Preview } from "./Preview";
import { removeSchedule, type ScheduleDraft, writeSchedule } from "./scheduleDraft";

const ZONES = Intl.supportedValuesOf("timeZone");
const SHIFTS = {
  "": "it is skipped",
  following: "the next right day",
  preceding: "the right day before",
  "modified-following": "the next, unless in another month",
  nearest: "the nearest right day",
};

/** A draft with a field a line, so that what two people changed in different fields can be brought together. */
const asText = (draft: ScheduleDraft) => JSON.stringify(draft, null, 1);

type Props = { job: Job; tag?: string; schedule: string; written: ScheduleDraft };

/** A schedule as fields and as text, with what it stands for beside it. */
export function ScheduleEditor({ job, tag, schedule, written }: Props) {
  const edited = useEdited(`schedule ${schedule || "(new)"} of ${job.name}`, asText(written), tag);
  const draft: ScheduleDraft = JSON.parse(edited.text);
  const save = useSave(job.name);
  const navigate = useNavigate();
  const calendars = useCalendars();
  const { changed } = edited;
  const set = (part: Partial<ScheduleDraft>) => edited.set((before) => asText({ ...JSON.parse(before), ...part }));
  const put = (definition: string) =>
    save.mutate(
      { definition, tag: edited.tag },
      {
        onSuccess: () => {
          edited.forget();
          navigate(`/jobs/${job.name}`);
        },
      },
    );
  const { ask, question } = useAsk();
  const remove = () =>
    ask({
      title: `Remove the schedule ${schedule} of ${job.name}?`,
      deed: "Remove it",
      text: "It starts nothing any more. It stays in the job's revisions.",
      onYes: () => put(removeSchedule(job.definition, schedule)),
    });
  const names = (calendars.data ?? []).map((calendar) => calendar.name);
  const calendarField = (field: "calendar" | "except", label: string, none: string) => (
    <TextField
      select
      label={label}
      value={names.includes(draft[field]) ? draft[field] : ""}
      onChange={(event) => set({ [field]: event.target.value })}
      slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
    >
      <MenuItem value="">{none}</MenuItem>
      {names.map((name) => (
        <MenuItem key={name} value={name}>
          {name}
        </MenuItem>
      ))}
    </TextField>
  );
  return (
    <>
      <title>{`${schedule || "New schedule"} of ${job.name} · Gantrel`}</title>
      <Box sx={{ display: "flex", flexWrap: "wrap", alignItems: "center", gap: 1, mb: 1.5 }}>
        <Typography variant="h1">{schedule ? `Schedule ${schedule}` : "New schedule"}</Typography>
        <Typography color="textSecondary" sx={{ flex: 1 }}>
          of {job.name}
          {changed && schedule && " · not saved yet"}
        </Typography>
        {schedule && (
          <Button color="error" onClick={remove}>
            Remove
          </Button>
        )}
        <Button onClick={() => navigate(`/jobs/${job.name}`)}>Cancel</Button>
        <Button onClick={edited.undo} disabled={!edited.mayUndo} title="Ctrl+Z">
          Undo
        </Button>
        <Button onClick={() => edited.set(() => edited.written)} disabled={!changed}>
          Undo all
        </Button>
        <Button
          variant="contained"
          disabled={(!changed && schedule !== "") || save.isPending || draft.name === "" || draft.when === ""}
          onClick={() => put(writeSchedule(job.definition, schedule || draft.name, draft))}
        >
          Save
        </Button>
      </Box>
      {question}
      <EditorNotes edited={edited} />
      <Trouble error={save.error} />
      <Box sx={{ display: "grid", gap: 2, gridTemplateColumns: { xs: "minmax(0, 1fr)", lg: "1fr 1fr" } }}>
        <Panel title="When">
          <Box sx={{ display: "grid", gap: 2, mt: 1, gridTemplateColumns: "minmax(0, 1fr)" }}>
            {schedule === "" && (
              <TextField
                label="Name"
                required
                value={draft.name}
                onChange={(event) => set({ name: event.target.value })}
                helperText="lower-case letters, digits and dashes"
              />
            )}
            <Builder text={draft.when} onChange={(when) => set({ when })} />
            <Autocomplete
              options={ZONES}
              value={draft.zone || null}
              onChange={(_, zone) => set({ zone: zone ?? "UTC" })}
              renderInput={(parameters) => <TextField {...parameters} label="Zone" size="small" />}
            />
            <Box sx={{ display: "grid", gap: 1.5, gridTemplateColumns: { xs: "1fr", sm: "1fr 1fr" } }}>
              {calendarField("calendar", "Keeps to the days of", "every day")}
              {calendarField("except", "Keeps off the days of", "no calendar")}
              <TextField
                select
                label="On a wrong day"
                value={draft.shift === "skip" ? "" : draft.shift}
                disabled={!draft.calendar && !draft.except}
                onChange={(event) => set({ shift: event.target.value })}
                slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
              >
                {Object.entries(SHIFTS).map(([word, text]) => (
                  <MenuItem key={word} value={word}>
                    {text}
                  </MenuItem>
                ))}
              </TextField>
              <TextField
                label="Window"
                value={draft.window}
                onChange={(event) => set({ window: event.target.value })}
                helperText="such as 30 min, over which starts are spread; empty for none"
              />
              <MomentField label="First day" dayOnly value={draft.from} onChange={(from) => set({ from })} />
              <MomentField label="Last day" dayOnly value={draft.until} onChange={(until) => set({ until })} />
            </Box>
          </Box>
        </Panel>
        <Panel title="What it stands for">
          <Preview
            asked={{
              expression: draft.when,
              zone: draft.zone,
              calendar: draft.calendar,
              except: draft.except,
              shift: draft.shift || "skip",
              job: job.name,
            }}
          />
        </Panel>
      </Box>
    </>
  );
}
