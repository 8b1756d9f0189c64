import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import type { ReactNode } from "react";
import { Trouble } from "./Trouble";

type Props = {
  /** The question, which names the thing. */
  title: string;
  /** What is done, as a verb with its thing. */
  deed: string;
  danger?: boolean;
  busy?: boolean;
  error?: unknown;
  onYes: () => void;
  onClose: () => void;
  children?: ReactNode;
};

/** Asks before something that cannot be taken back. */
export function Ask({ title, deed, danger = true, busy = false, error, onYes, onClose, children }: Props) {
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="ask-title">
      <DialogTitle id="ask-title" sx={{ overflowWrap: "anywhere" }}>
        {title}
      </DialogTitle>
      <DialogContent>
        {children}
        <Trouble error={error} />
      </DialogContent>
      <DialogActions>
        <Button autoFocus onClick={onClose}>
          Cancel
        </Button>
        <Button color={danger ? "error" : "primary"} variant="contained" disabled={busy} onClick={onYes}>
          {deed}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
