import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { useCall } from "../../api/useCall";
import { FormDialog } from "../../ui/FormDialog";
import { Trouble } from "../../ui/Trouble";

export function NewTeamDialog({ onClose }: { onClose: () => void }) {
  const [name, setName] = useState("");
  const [about, setAbout] = useState("");
  const make = useCall("teams", "me");
  return (
    <FormDialog
      title="New team"
      changed={name + about !== ""}
      onClose={onClose}
      actions={
        <Button
          variant="contained"
          disabled={name === "" || make.isPending}
          onClick={() =>
            make.mutate({ method: "POST", path: "/api/v1/teams", body: { name, about } }, { onSuccess: onClose })
          }
        >
          Save
        </Button>
      }
    >
      <TextField
        autoFocus
        label="Name"
        value={name}
        helperText="lower-case letters, digits and dashes"
        onChange={(event) => setName(event.target.value)}
      />
      <TextField label="What it does" value={about} onChange={(event) => setAbout(event.target.value)} />
      <Trouble error={make.error} />
    </FormDialog>
  );
}
