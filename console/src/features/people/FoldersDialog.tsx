import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Team } from "../../api/types";
import { useCall } from "../../api/useCall";
import { FormDialog } from "../../ui/FormDialog";
import { Trouble } from "../../ui/Trouble";

/** Which folders a team's jobs may use. */
export function FoldersDialog({ team, onClose }: { team: Team; onClose: () => void }) {
  const written = (team.folders ?? []).join("\n");
  const [text, setText] = useState(written);
  const save = useCall("teams");
  const folders = text.split("\n").map((line) => line.trim());
  const body = { folders: folders.filter((line) => line !== "") };
  return (
    <FormDialog
      title={`Folders of ${team.name}`}
      changed={text !== written}
      onClose={onClose}
      actions={
        <Button
          variant="contained"
          disabled={save.isPending || text === written}
          onClick={() =>
            save.mutate({ method: "PUT", path: `/api/v1/teams/${team.name}/folders`, body }, { onSuccess: onClose })
          }
        >
          Save
        </Button>
      }
    >
      <Typography>
        The team's jobs reach files in these folders and nowhere else. With none named they reach what their account may
        reach.
      </Typography>
      <TextField
        multiline
        minRows={4}
        label="Folders, one a line"
        value={text}
        onChange={(event) => setText(event.target.value)}
      />
      <Trouble error={save.error} />
    </FormDialog>
  );
}
