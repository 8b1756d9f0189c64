import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { FormDialog } from "../../ui/FormDialog";

/** Asks why a lane is closed; whoever wonders why nothing begins is told it. */
export function CloseDialog(props: { name: string; onClose: () => void; onYes: (why: string) => void }) {
  const [why, setWhy] = useState("");
  return (
    <FormDialog
      title={`Close the lane ${props.name}?`}
      onClose={props.onClose}
      changed={why !== ""}
      actions={
        <Button variant="contained" onClick={() => props.onYes(why)}>
          Close it
        </Button>
      }
    >
      What is in it goes on; nothing more begins until it is opened.
      <TextField
        autoFocus
        label="Why"
        value={why}
        helperText="whoever wonders why nothing begins is told this"
        onChange={(event) => setWhy(event.target.value)}
      />
    </FormDialog>
  );
}
