import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Refused } from "../../api/client";
import type { Credential } from "../../api/types";
import { FormDialog } from "../../ui/FormDialog";
import { MomentField } from "../../ui/MomentField";
import { useMe } from "../../ui/me";
import { Trouble } from "../../ui/Trouble";
import { KINDS, names } from "./kinds";
import { given, SecretFields } from "./SecretFields";
import { useKeep } from "./useCredentials";

/** Keeps a new credential or changes one; the fields are those of its kind. A changed one keeps its secret. */
export function KeepDialog({ credential, onClose }: { credential?: Credential; onClose: () => void }) {
  const me = useMe();
  const own = Object.keys(me.teams).filter((team) => me.teams[team].includes("keep-credentials"));
  const [name, setName] = useState(credential?.name ?? "");
  const [team, setTeam] = useState(credential?.team ?? own[0] ?? "");
  const [kind, setKind] = useState(credential?.kind ?? "database");
  const [about, setAbout] = useState(credential?.about ?? "");
  const [facts, setFacts] = useState<Record<string, string>>(credential?.facts ?? {});
  const [secrets, setSecrets] = useState<Record<string, string>>({});
  const [teams, setTeams] = useState(credential?.teams.join(", ") ?? "");
  const [jobs, setJobs] = useState(credential?.jobs.join(", ") ?? "");
  const [expires, setExpires] = useState(credential?.expiresOn ?? "");
  const keep = useKeep(credential?.name);
  const typed = { name, team, kind, about, facts, secrets, teams, jobs, expires };
  const [begun] = useState(JSON.stringify(typed));
  const shape = KINDS[kind];
  const all = [...shape.facts, ...shape.optional];
  const problems = keep.error instanceof Refused ? keep.error.problems : [];
  const complaint = (field: string) => problems.find((wrong) => wrong.field === field)?.message;
  // only an edit of something that is there needs to say of which revision it is one
  const taken = credential === undefined && keep.error instanceof Refused && keep.error.status === 428;
  const known = ["name", ...all, ...shape.secrets];
  const save = () => {
    const draft = {
      team,
      kind,
      about,
      facts: given(facts, all),
      secrets: credential ? undefined : given(secrets, shape.secrets),
      teams: names(teams),
      jobs: names(jobs),
      expiresOn: expires === "" ? undefined : expires,
    };
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
  const title = credential ? `Change ${credential.name}` : "New credential";
  return (
    <FormDialog
      title={title}
      changed={JSON.stringify(typed) !== begun && !keep.isSuccess}
      onClose={onClose}
      actions={
        <Button variant="contained" disabled={name === "" || keep.isPending || !keep.isReady} onClick={save}>
          Save
        </Button>
      }
    >
      {credential === undefined && field("name", name, setName)}
      <TextField select label="team" value={team} onChange={(event) => setTeam(event.target.value)}>
        {[...new Set([...own, team])].map((each) => (
          <MenuItem key={each} value={each}>
            {each}
          </MenuItem>
        ))}
      </TextField>
      {credential === undefined && (
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
      )}
      {field("about", about, setAbout)}
      {all.map((fact) =>
        field(fact, facts[fact] ?? "", (value) => setFacts({ ...facts, [fact]: value }), {
          helperText: complaint(fact) ?? (shape.optional.includes(fact) ? "may be left out" : undefined),
        }),
      )}
      {credential === undefined && (
        <>
          {shape.hint && <Typography color="textSecondary">{shape.hint}</Typography>}
          <SecretFields parts={shape.secrets} values={secrets} onChange={setSecrets} complaint={complaint} />
        </>
      )}
      {field("also for the jobs of these teams", teams, setTeams)}
      {field("only for these jobs (all, where none is named)", jobs, setJobs)}
      <MomentField
        label="expires on"
        dayOnly
        value={expires}
        error={complaint("expires on") ?? complaint("expiresOn")}
        help="empty where it does not end"
        onChange={setExpires}
      />
      {(taken || problems.length === 0 || !problems.every((wrong) => known.includes(wrong.field ?? ""))) && (
        <Trouble error={taken ? new Error(`there is a credential '${name}' already; change that one`) : keep.error} />
      )}
    </FormDialog>
  );
}
