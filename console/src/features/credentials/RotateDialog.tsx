import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Credential } from "../../api/types";
import { Trouble } from "../../ui/Trouble";
import { useRotate } from "./useCredentials";

/** Puts a new secret in the place of the old one, having said whom that concerns. */
export function RotateDialog({ credential, onClose }: { credential: Credential; onClose: () => void }) {
  const [secret, setSecret] = useState("");
  const rotate = useRotate(credential.name);
  const part = credential.keeps[0];
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="rotate-title">
      <DialogTitle id="rotate-title">
        A new {part} for {credential.name}
      </DialogTitle>
      <DialogContent sx={{ display: "grid", gap: 2, pt: "8px !important" }}>
        <Typography>
          {credential.usedBy.length === 0
            ? "No job uses it."
            : `From their next start on these jobs use it: ${credential.usedBy.join(", ")}.`}
        </Typography>
        <TextField
          label={part}
          type="password"
          autoComplete="new-password"
          value={secret}
          onChange={(event) => setSecret(event.target.value)}
        />
        <Trouble error={rotate.error} />
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Not now</Button>
        <Button
          variant="contained"
          disabled={secret === "" || rotate.isPending}
          onClick={() => rotate.mutate({ [part]: secret }, { onSuccess: onClose })}
        >
          Rotate
        </Button>
      </DialogActions>
    </Dialog>
  );
}
