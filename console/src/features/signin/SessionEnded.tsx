import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { call, get, keepCsrf } from "../../api/client";
import { sessionBegan, sessionLeft, useSessionEnded } from "../../api/session";
import { openStreamNow } from "../../api/stream";
import type { Me } from "../../api/types";
import { takeChoices } from "../../ui/choices";
import { useMe } from "../../ui/me";
import { Trouble } from "../../ui/Trouble";
import { dropAllUnsaved } from "../../ui/unsaved";

/** Asks for the password over the page when the session has ended under it; all that was typed stays where it is. */
export function SessionEnded() {
  const ended = useSessionEnded();
  const me = useMe();
  const queries = useQueryClient();
  const [password, setPassword] = useState("");
  const again = useMutation({
    mutationFn: async () => {
      await call("POST", "/api/v1/sessions", { name: me.name, password });
      return get<Me>("/api/v1/me");
    },
    onSuccess: (fresh) => {
      setPassword("");
      keepCsrf(fresh.csrf);
      takeChoices(fresh);
      queries.setQueryData(["me"], fresh);
      sessionBegan();
      openStreamNow();
    },
  });
  const other = () => {
    dropAllUnsaved();
    sessionLeft();
    window.location.assign("/");
  };
  return (
    <Dialog open={ended} fullWidth maxWidth="xs" aria-labelledby="ended-title">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          again.mutate();
        }}
      >
        <DialogTitle id="ended-title">Your session has ended</DialogTitle>
        <DialogContent sx={{ display: "grid", gap: 2 }}>
          <Typography>
            Sign in again as <b>{me.name}</b> to go on. What you typed is still there.
          </Typography>
          <input type="text" name="username" autoComplete="username" value={me.name} readOnly hidden />
          <TextField
            label="Password"
            type="password"
            autoComplete="current-password"
            autoFocus
            value={password}
            onChange={(event) => setPassword(event.target.value)}
          />
          <Trouble error={again.error} />
        </DialogContent>
        <DialogActions>
          <Button onClick={other}>Somebody else</Button>
          <Button type="submit" variant="contained" disabled={password === "" || again.isPending}>
            Go on
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
