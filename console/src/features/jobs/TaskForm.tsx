import Autocomplete from "@mui/material/Autocomplete";
import Box from "@mui/material/Box";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { useMe } from "../../ui/me";
import { ownZone } from "../../ui/times";
import { Preview } from "../schedules/Preview";
import { type Draft, type DraftField, WORK, type WorkField } from "./draft";

type Props = {
  draft: Draft;
  named: boolean;
  onChange: (field: DraftField, value: string) => void;
  onKind: (kind: string) => void;
  onWork: (field: WorkField, value: string) => void;
};

const ZONES = Intl.supportedValuesOf("timeZone");

/** A task's definition as a form. */
export function TaskForm({ draft, named, onChange, onKind, onWork }: Props) {
  const me = useMe();
  const teams = Object.keys(me.teams).filter((team) => me.teams[team].includes("define-jobs"));
  const field = (name: DraftField, label: string, help: string, more = {}) => (
    <TextField
      label={label}
      value={draft[name]}
      helperText={help}
      onChange={(event) => onChange(name, event.target.value)}
      {...more}
    />
  );
  return (
    <Box sx={{ display: "grid", gap: 2, gridTemplateColumns: "minmax(0, 1fr)" }}>
      {field("task", "Name", named ? "a job keeps its name" : "lower-case letters, digits and dashes", {
        disabled: named,
      })}
      <TextField
        select
        label="Team"
        value={teams.includes(draft.team) ? draft.team : ""}
        onChange={(event) => onChange("team", event.target.value)}
      >
        {teams.map((team) => (
          <MenuItem key={team} value={team}>
            {team}
          </MenuItem>
        ))}
      </TextField>
      {field("about", "What it is for", "one line for those who meet it at night")}
      <TextField select label="What it does" value={draft.kind} onChange={(event) => onKind(event.target.value)}>
        {Object.entries(WORK).map(([kind, { label }]) => (
          <MenuItem key={kind} value={kind}>
            {label}
          </MenuItem>
        ))}
      </TextField>
      {WORK[draft.kind]?.fields.map((each) => (
        <TextField
          key={each.key}
          label={each.label}
          helperText={each.help}
          multiline={each.lines || each.multiline}
          value={draft.work[each.key]}
          onChange={(event) => onWork(each, event.target.value)}
        />
      ))}
      {draft.kind === "checks" && <Box sx={{ color: "text.secondary" }}>The checks are listed beside, one a line.</Box>}
      {field("actsAs", "Acts as", "the name of a credential; empty for the service's own account")}
      {field("timeLimit", "Time limit", "ISO 8601, such as PT30M; empty for none")}
      {field("mail", "Mail on failure", "addresses, one a line", { multiline: true })}
      {field("when", "Schedule", "'every day at 02:30', 'every 15 minutes' or cron; empty for by hand only")}
      <Autocomplete
        options={ZONES}
        value={draft.zone || null}
        disabled={draft.when === ""}
        onChange={(_, zone) => onChange("zone", zone ?? ownZone())}
        renderInput={(parameters) => <TextField {...parameters} label="Zone" size="small" />}
      />
      {draft.when && <Preview asked={{ expression: draft.when, zone: draft.zone, job: draft.task }} />}
    </Box>
  );
}
