import Autocomplete from "@mui/material/Autocomplete";
import Box from "@mui/material/Box";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { Choice } from "../../ui/Choice";
import { Folded } from "../../ui/Folded";
import { LazyField } from "../../ui/LazyField";
import { useMe } from "../../ui/me";
import { ownZone } from "../../ui/times";
import { Preview } from "../schedules/Preview";
import { ActsAs } from "./ActsAs";
import type { Draft, DraftField } from "./draft";
import { PartList } from "./PartList";
import { CHECKS, OUTPUTS, PARAMETERS, readParts } from "./parts";
import { StartedByFields } from "./StartedByFields";
import { UnattendedFields } from "./UnattendedFields";
import { WorkFields } from "./WorkFields";
import { WORK, type WorkField } from "./work";

type Props = {
  draft: Draft;
  named: boolean;
  onChange: (field: DraftField, value: string) => void;
  onKind: (kind: string) => void;
  onWork: (field: WorkField, value: string) => void;
  /** The definition itself, and how it is edited where the draft does not show it. */
  text: string;
  onEdit: (edit: (text: string) => string) => void;
};

const ZONES = Intl.supportedValuesOf("timeZone");

const OUTCOME: { name: DraftField; label: string; help: string; codes?: boolean }[] = [
  { name: "succeeded", label: "Exit codes of success", help: "0 where nothing is said", codes: true },
  { name: "warned", label: "Exit codes of a warning", help: "such as 3, 4", codes: true },
  { name: "failedBy", label: "Output that is a failure", help: "regular expressions, one a line" },
  { name: "warnedBy", label: "Output that is a warning", help: "regular expressions, one a line" },
];

/** A task's definition as a form. */
export function TaskForm({ draft, named, onChange, onKind, onWork, text, onEdit }: Props) {
  const me = useMe();
  const parameters = readParts(text, PARAMETERS);
  const outputs = readParts(text, OUTPUTS);
  const isCommand = draft.kind === "command" || draft.kind === "shell";
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
        slotProps: { htmlInput: { readOnly: named } },
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
      <WorkFields kind={draft.kind} work={draft.work} onWork={onWork} />
      {draft.kind === "checks" && <PartList kind={CHECKS} parts={readParts(text, CHECKS)} onEdit={onEdit} />}
      <Folded title="Parameters" open={parameters.length > 0}>
        <PartList kind={PARAMETERS} parts={parameters} onEdit={onEdit} />
      </Folded>
      <ActsAs value={draft.actsAs} onChange={(name) => onChange("actsAs", name)} />
      {isCommand && (
        <Choice
          label="Raised (runs as root)"
          value={draft.raised || "no"}
          options={["no", "yes"]}
          help="yes: the command may do anything on this host, whatever account the job acts as; it needs an administrator, and is written down with each run"
          onChange={(word) => onChange("raised", word === "no" ? "" : word)}
        />
      )}
      {field("timeLimit", "Time limit", "such as 30 min; empty for none")}
      <UnattendedFields draft={draft} onChange={onChange} text={text} onEdit={onEdit} />
      <StartedByFields draft={draft} onChange={onChange} text={text} onEdit={onEdit} />
      {isCommand && (
        <Folded title="What counts as a failure" open={OUTCOME.some(({ name }) => draft[name] !== "")}>
          {OUTCOME.map(({ name, label, help, codes }) => (
            <LazyField
              key={name}
              label={label}
              help={help}
              multiline={!codes}
              value={codes ? draft[name].replaceAll("\n", ", ") : draft[name]}
              onCommit={(value) => onChange(name, codes ? value.split(/[\s,]+/).join("\n") : value)}
            />
          ))}
          <Choice
            label="Anything on the error stream"
            value={draft.errorStream || "allowed"}
            options={["allowed", "warned", "failed"]}
            onChange={(word) => onChange("errorStream", word === "allowed" ? "" : word)}
          />
          {field("testResults", "JUnit XML", "such as reports/*.xml; each test case becomes an item")}
        </Folded>
      )}
      <Folded title="Outputs" open={outputs.length > 0 || draft.keepOutputs !== ""}>
        <PartList kind={OUTPUTS} parts={outputs} onEdit={onEdit} />
        {field("keepOutputs", "Kept for", "such as 90 days; empty for ever", { size: "small" })}
      </Folded>
      <LazyField
        live
        multiline
        label="Mail on failure"
        help="addresses, one a line"
        value={draft.mail}
        onCommit={(value) => onChange("mail", value)}
      />
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
