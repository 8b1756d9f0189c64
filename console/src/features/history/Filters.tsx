import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { useEffect, useState } from "react";
import { useMe } from "../../ui/me";
import { STATE_WORDS, STATES } from "../../ui/outcome";
import type { Filter } from "./useHistory";

const PAUSE = 350;

const SINCE = [
  ["", "any time"],
  ["1h", "last hour"],
  ["12h", "last 12 hours"],
  ["1d", "last day"],
  ["7d", "last 7 days"],
  ["31d", "last 31 days"],
];

const CAUSES = [
  ["", "any start"],
  ["schedule", "by schedule"],
  ["person", "by hand"],
  ["chain", "by a chain"],
  ["trigger", "by a trigger"],
  ["sweep", "as a row of a sweep"],
  ["repeat", "repeated"],
];

const ROWS = [
  ["", "sweeps as one"],
  ["yes", "each row of sweeps"],
];

export function Filters({ filter, onChange }: { filter: Filter; onChange: (changed: Partial<Filter>) => void }) {
  const me = useMe();
  const [text, setText] = useState(filter.q);
  useEffect(() => setText(filter.q), [filter.q]);
  useEffect(() => {
    if (text === filter.q) return;
    const timer = setTimeout(() => onChange({ q: text }), PAUSE);
    return () => clearTimeout(timer);
  }, [text, filter.q, onChange]);
  const states = [
    ["", "any state"],
    ["failed,timed-out,missed", "needs somebody"],
    ...STATES.map((state) => [state, STATE_WORDS[state]]),
  ];
  const teams = [["", "all teams"], ...Object.keys(me.teams).map((team) => [team, team])];
  return (
    <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, mb: 1.5, alignItems: "center" }}>
      <TextField
        label="Words in job, values, message"
        value={text}
        onChange={(event) => setText(event.target.value)}
        sx={{ flex: "1 1 220px", maxWidth: 340 }}
        slotProps={{ htmlInput: { maxLength: 200 } }}
      />
      <Pick label="State" value={filter.state} options={states} onChange={(state) => onChange({ state })} />
      <Pick label="Team" value={filter.team} options={teams} onChange={(team) => onChange({ team })} />
      <Pick label="Start" value={filter.cause} options={CAUSES} onChange={(cause) => onChange({ cause })} />
      <Pick label="When" value={filter.since} options={SINCE} onChange={(since) => onChange({ since })} />
      <Pick label="Sweeps" value={filter.rows} options={ROWS} onChange={(rows) => onChange({ rows })} />
      {filter.job && <Button onClick={() => onChange({ job: "" })}>only {filter.job} ✕</Button>}
    </Box>
  );
}

type PickProps = { label: string; value: string; options: string[][]; onChange: (value: string) => void };

function Pick({ label, value, options, onChange }: PickProps) {
  const known = options.some(([option]) => option === value) ? options : [...options, [value, value]];
  return (
    <TextField
      select
      label={label}
      value={value}
      onChange={(event) => onChange(event.target.value)}
      slotProps={{ inputLabel: { shrink: true }, select: { displayEmpty: true } }}
      sx={{ minWidth: 128 }}
    >
      {known.map(([option, words]) => (
        <MenuItem key={option} value={option}>
          {words}
        </MenuItem>
      ))}
    </TextField>
  );
}
