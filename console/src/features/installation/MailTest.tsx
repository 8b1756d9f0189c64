import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { useCall } from "../../api/useCall";
import { Trouble } from "../../ui/Trouble";

type Tried = { to: string; taken: boolean; said: string };

/** Sends a mail now, and shows what the server says to it. */
export function MailTest() {
  const [to, setTo] = useState("");
  const send = useCall<Tried>("tellings");
  return (
    <Box
      component="form"
      onSubmit={(event) => {
        event.preventDefault();
        send.mutate({ method: "POST", path: "/api/v1/channels/mail/test", body: { to: to.trim() || undefined } });
      }}
    >
      <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap" }}>
        <TextField
          label="To"
          value={to}
          placeholder="my own address"
          onChange={(event) => setTo(event.target.value)}
          slotProps={{ inputLabel: { shrink: true } }}
          sx={{ flex: 1, minWidth: 180 }}
        />
        <Button type="submit" variant="outlined" disabled={send.isPending}>
          {send.isPending ? "Sending …" : "Send a mail"}
        </Button>
      </Box>
      <Trouble error={send.error} />
      {send.data && (
        <Alert severity={send.data.body.taken ? "success" : "error"} sx={{ mt: 1 }} role="status">
          {send.data.body.taken
            ? `The server has taken it for ${send.data.body.to}.`
            : `Not taken for ${send.data.body.to}: ${send.data.body.said}`}
        </Alert>
      )}
    </Box>
  );
}
