import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { Refused } from "../../api/client";
import { useCall } from "../../api/useCall";
import { useMe } from "../../ui/me";
import { Trouble } from "../../ui/Trouble";

/** One's own password; the old one is asked for, so that nobody changes it at an open screen. */
export function PasswordForm() {
  const me = useMe();
  const [old, setOld] = useState("");
  const [password, setPassword] = useState("");
  const [again, setAgain] = useState("");
  const save = useCall();
  const problems = save.error instanceof Refused ? save.error.problems : [];
  const complaint = (field: string) => problems.find((wrong) => wrong.field === field)?.message;
  const differ = again !== "" && again !== password;
  const submit = () =>
    save.mutate(
      { method: "PUT", path: `/api/v1/people/${encodeURIComponent(me.name)}/password`, body: { old, password } },
      {
        onSuccess: () => {
          setOld("");
          setPassword("");
          setAgain("");
        },
      },
    );
  const field = (
    label: string,
    value: string,
    set: (value: string) => void,
    wrong: string | undefined,
    complete: string,
  ) => (
    <TextField
      label={label}
      type="password"
      autoComplete={complete}
      value={value}
      error={wrong !== undefined}
      helperText={wrong}
      onChange={(event) => set(event.target.value)}
    />
  );
  return (
    <Box
      component="form"
      sx={{ display: "grid", gap: 1.5 }}
      onSubmit={(event) => {
        event.preventDefault();
        submit();
      }}
    >
      {field("The password now", old, setOld, complaint("old"), "current-password")}
      {field("The new password", password, setPassword, complaint("password"), "new-password")}
      {field("The new password once more", again, setAgain, differ ? "is not the same" : undefined, "new-password")}
      {problems.length === 0 && <Trouble error={save.error} />}
      {save.isSuccess && <Alert severity="success">It is changed. Other sessions of yours have ended.</Alert>}
      <Box>
        <Button
          type="submit"
          variant="contained"
          disabled={old === "" || password === "" || again !== password || save.isPending}
        >
          Change it
        </Button>
      </Box>
    </Box>
  );
}
