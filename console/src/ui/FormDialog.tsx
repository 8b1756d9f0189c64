import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import { type ReactNode, useId, useState } from "react";
import { useGuard } from "./useGuard";

type Props = {
  title: string;
  onClose: () => void;
  /** Whether something was typed that would be lost; Esc and a click beside it then ask first. */
  changed?: boolean;
  /** What stands beside Cancel. */
  actions: ReactNode;
  width?: "sm" | "md" | "lg";
  children: ReactNode;
};

/** A dialog with a form: it does not throw away what was typed because somebody's hand slipped. */
export function FormDialog({ title, onClose, changed = false, actions, width = "sm", children }: Props) {
  const id = useId();
  const [asking, setAsking] = useState(false);
  useGuard(changed, `what you typed under "${title}"`);
  const leave = () => (changed ? setAsking(true) : onClose());
  return (
    <Dialog open onClose={leave} fullWidth maxWidth={width} aria-labelledby={id}>
      <DialogTitle id={id} sx={{ overflowWrap: "anywhere" }}>
        {title}
      </DialogTitle>
      <DialogContent sx={{ display: "grid", gap: 2, pt: "8px !important", gridTemplateColumns: "minmax(0, 1fr)" }}>
        {children}
      </DialogContent>
      {asking ? (
        <DialogActions role="alert" sx={{ flexWrap: "wrap" }}>
          <Box sx={{ flex: 1, pl: 2 }}>Throw away what you typed?</Box>
          <Button autoFocus onClick={() => setAsking(false)}>
            Go on typing
          </Button>
          <Button color="error" variant="contained" onClick={onClose}>
            Throw away
          </Button>
        </DialogActions>
      ) : (
        <DialogActions>
          <Button onClick={leave}>Cancel</Button>
          {actions}
        </DialogActions>
      )}
    </Dialog>
  );
}
