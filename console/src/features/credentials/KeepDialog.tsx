import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { Refused } from "../../api/client";
import { useMe } from "../../ui/me";
import { Trouble } from "../../ui/Trouble";
import { KINDS } from "./kinds";
import { useKeep } from "./useCredentials";

/** Keeps a new credential; the fields are those of its kind. */
export function KeepDialog({ onClose }: { onClose: () => void }) {
  const me = useMe();
  const teams = Object.keys(me.teams).filter((team) => me.teams[team].includes("keep-credentials"));
  const [name, setName] = useState("");
  const [team, setTeam] = useState(teams[0] ?? "");
  const [kind, setKind] = useState("database");
  const [about, setAbout] = useState("");
  const [facts, setFacts] = useState<Record<string, string>>({});
  const [secret, setSecret] = useState("");
  const keep = useKeep();
  const shape = KINDS[kind];
  const problems = keep.error instanceof Refused ? keep.error.problems : [];
  const complaint = (field: string) => problems.find((wrong) => wrong.field === field)?.message;
  const known = ["name", "team", ...shape.facts, ...shape.optional, shape.secret];
  const save = () => {
    const given = Object.entries(facts).filter(
      ([fact, value]) => value !== "" && [...shape.facts, ...shape.optional].includes(fact),
    );
    const secrets: Record<string, string> = shape.secret && secret ? { [shape.secret]: secret } : {};
    const draft = { team, kind, about, facts: Object.fromEntries(given), secrets, teams: [] };
    keep.mutate({ name, draft }, { onSuccess: onClose });
  };
  const field = (label: string, value: string, change: (value: string) => void, more = {}) => (
    <TextField
      key={label}
      label={label}
      value={value}
      error={complaint(label) !== undefined}
      helperText={complaint(label)}
      onChange={(event) => change(event.target.value)}
      {...more}
    />
  );
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="keep-title">
      <DialogTitle id="keep-title">New credential</DialogTitle>
      <DialogContent sx={{ display: "grid", gap: 2, pt: "8px !important" }}>
        {field("name", name, setName)}
        <TextField select label="team" value={team} onChange={(event) => setTeam(event.target.value)}>
          {teams.map((each) => (
            <MenuItem key={each} value={each}>
              {each}
            </MenuItem>
          ))}
        </TextField>
        <TextField
          select
          label="kind"
          value={kind}
          helperText={shape.about}
          onChange={(event) => setKind(event.target.value)}
        >
          {Object.keys(KINDS)
            .filter((each) => each !== "account" || me.administrator)
            .map((each) => (
              <MenuItem key={each} value={each}>
                {each}
              </MenuItem>
            ))}
        </TextField>
        {field("about", about, setAbout)}
        {[...shape.facts, ...shape.optional].map((fact) =>
          field(fact, facts[fact] ?? "", (value) => setFacts({ ...facts, [fact]: value })),
        )}
        {shape.secret && field(shape.secret, secret, setSecret, { type: "password", autoComplete: "new-password" })}
        {!problems.every((wrong) => known.includes(wrong.field)) || problems.length === 0 ? (
          <Trouble error={keep.error} />
        ) : null}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Not now</Button>
        <Button variant="contained" disabled={name === "" || keep.isPending} onClick={save}>
          Keep it
        </Button>
      </DialogActions>
    </Dialog>
  );
}
