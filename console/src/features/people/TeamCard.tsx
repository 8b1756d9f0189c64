import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Team } from "../../api/types";
import { useCall } from "../../api/useCall";
import { useMe } from "../../ui/me";
import { Panel } from "../../ui/Panel";
import { Trouble } from "../../ui/Trouble";
import { durationWords, millis } from "../../ui/times";
import { useAsk } from "../../ui/useAsk";
import { FoldersDialog } from "./FoldersDialog";
import { ROLES } from "./usePeople";

/** A team with its members and their roles; who may change them can do so here. */
export function TeamCard({ team }: { team: Team }) {
  const me = useMe();
  const may = team.mayDo.includes("manage-members");
  const change = useCall("teams", "me");
  const { ask, question } = useAsk();
  const [person, setPerson] = useState("");
  const [role, setRole] = useState("viewer");
  const [folders, setFolders] = useState(false);
  const path = (name: string) => `/api/v1/teams/${team.name}/members/${encodeURIComponent(name)}`;
  const give = (name: string, next: string) => change.mutate({ method: "PUT", path: path(name), body: { role: next } });
  const members = Object.entries(team.members).sort(([a], [b]) => a.localeCompare(b));
  return (
    <Panel title={team.name}>
      {team.about && <Typography sx={{ mb: 1 }}>{team.about}</Typography>}
      <Box component="ul" aria-label={`Members of ${team.name}`} sx={{ m: 0, p: 0, listStyle: "none" }}>
        {members.map(([name, has]) => (
          <Box key={name} component="li" sx={{ display: "flex", alignItems: "center", gap: 1, py: 0.25 }}>
            <Box sx={{ flex: 1, minWidth: 0, overflowWrap: "anywhere", fontWeight: name === me.name ? 650 : 400 }}>
              {name}
            </Box>
            {may ? (
              <>
                <Role label={`Role of ${name} in ${team.name}`} role={has} onChange={(next) => give(name, next)} />
                <Button
                  color="error"
                  aria-label={`Remove ${name} from ${team.name}`}
                  onClick={() =>
                    ask({
                      title: `Remove ${name} from ${team.name}?`,
                      deed: "Remove",
                      text: "They no longer see its work. What they defined stays.",
                      onYes: () => change.mutate({ method: "DELETE", path: path(name) }),
                    })
                  }
                >
                  Remove
                </Button>
              </>
            ) : (
              <Box sx={{ color: "text.secondary" }}>{has}</Box>
            )}
          </Box>
        ))}
        {members.length === 0 && <Box component="li">Nobody is in it.</Box>}
      </Box>
      {may && (
        <Box
          component="form"
          sx={{ display: "flex", flexWrap: "wrap", gap: 1, mt: 1 }}
          onSubmit={(event) => {
            event.preventDefault();
            give(person.trim(), role);
            setPerson("");
          }}
        >
          <TextField
            label="Person"
            value={person}
            onChange={(event) => setPerson(event.target.value)}
            sx={{ flex: 1 }}
          />
          <Role label={`Role in ${team.name}`} role={role} onChange={setRole} />
          <Button type="submit" variant="outlined" disabled={person.trim() === "" || change.isPending}>
            Add
          </Button>
        </Box>
      )}
      <Trouble error={change.error} />
      <Typography color="textSecondary" sx={{ mt: 1.5, fontSize: "0.85rem", overflowWrap: "anywhere" }}>
        {keptWords(team)}. {team.folders && `Its jobs may use ${team.folders.join(", ")}.`}
        {me.administrator && <Button onClick={() => setFolders(true)}>Folders</Button>}
      </Typography>
      {question}
      {folders && <FoldersDialog team={team} onClose={() => setFolders(false)} />}
    </Panel>
  );
}

function keptWords({ keep }: Team): string {
  const part = (what: string, length?: string) => length && `${what} ${durationWords(millis(length))}`;
  const said = [part("runs", keep?.runs), part("logs", keep?.logs)].filter(Boolean);
  return said.length > 0 ? `Kept: ${said.join(", ")}` : "Runs and logs are kept as in the whole installation";
}

function Role({ label, role, onChange }: { label: string; role: string; onChange: (role: string) => void }) {
  return (
    <TextField
      select
      value={role}
      onChange={(event) => onChange(event.target.value)}
      slotProps={{ htmlInput: { "aria-label": label } }}
      sx={{ width: 120 }}
    >
      {ROLES.map((each) => (
        <MenuItem key={each} value={each}>
          {each}
        </MenuItem>
      ))}
    </TextField>
  );
}
