import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { Refused } from "../../api/client";
import type { Person } from "../../api/types";
import { useCall } from "../../api/useCall";
import { FormDialog } from "../../ui/FormDialog";
import { Trouble } from "../../ui/Trouble";

/** Makes an account, or gives one a new password. */
export function PersonDialog({ person, onClose }: { person?: Person; onClose: () => void }) {
  const [name, setName] = useState(person?.name ?? "");
  const [fullName, setFullName] = useState("");
  const [password, setPassword] = useState("");
  const [administrator, setAdministrator] = useState(false);
  const save = useCall("people");
  const problems = save.error instanceof Refused ? save.error.problems : [];
  const complaint = (field: string) => problems.find((wrong) => wrong.field === field)?.message;
  const put = () =>
    save.mutate(
      person
        ? { method: "PUT", path: `/api/v1/people/${encodeURIComponent(person.name)}/password`, body: { password } }
        : { method: "POST", path: "/api/v1/people", body: { name, fullName, password, administrator } },
      { onSuccess: onClose },
    );
  return (
    <FormDialog
      title={person ? `A new password for ${person.name}` : "New person"}
      changed={password !== "" || (!person && name + fullName !== "")}
      onClose={onClose}
      actions={
        <Button variant="contained" disabled={name === "" || password === "" || save.isPending} onClick={put}>
          Save
        </Button>
      }
    >
      {!person && (
        <>
          <TextField
            autoFocus
            label="Name"
            value={name}
            error={complaint("name") !== undefined}
            helperText={complaint("name") ?? "what they sign in with"}
            onChange={(event) => setName(event.target.value)}
          />
          <TextField label="Full name" value={fullName} onChange={(event) => setFullName(event.target.value)} />
        </>
      )}
      <TextField
        autoFocus={person !== undefined}
        label="Password"
        type="password"
        autoComplete="new-password"
        value={password}
        error={complaint("password") !== undefined}
        helperText={
          complaint("password") ?? (person ? "They are signed out everywhere." : "Tell it to them; they can change it.")
        }
        onChange={(event) => setPassword(event.target.value)}
      />
      {!person && (
        <FormControlLabel
          control={<Checkbox checked={administrator} onChange={(_, on) => setAdministrator(on)} />}
          label="Administrator: may do everything in all teams, and keeps accounts"
        />
      )}
      {problems.length === 0 && <Trouble error={save.error} />}
    </FormDialog>
  );
}
