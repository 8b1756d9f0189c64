import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Paper from "@mui/material/Paper";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useForm } from "react-hook-form";
import { call } from "../../api/client";
import { Logo } from "../../ui/Logo";
import { Trouble } from "../../ui/Trouble";

type Form = { name: string; password: string };

export function SignInPage() {
  const queries = useQueryClient();
  const { register, handleSubmit } = useForm<Form>();
  const signIn = useMutation({
    mutationFn: (form: Form) => call("POST", "/api/v1/sessions", form),
    onSuccess: () => queries.resetQueries(),
  });
  return (
    <Box component="main" sx={{ minHeight: "100vh", display: "grid", placeItems: "center", p: 2 }}>
      <Paper
        component="form"
        onSubmit={handleSubmit((form) => signIn.mutate(form))}
        sx={{ p: 4, width: "100%", maxWidth: 380, display: "grid", gap: 2 }}
      >
        <Box sx={{ display: "flex", alignItems: "center", gap: 1.5 }}>
          <Logo size={34} />
          <Typography variant="h1">Gantrel</Typography>
        </Box>
        <Typography color="textSecondary">Jobs that start by themselves, watched by several teams.</Typography>
        <TextField label="Name" autoComplete="username" autoFocus required {...register("name")} />
        <TextField
          label="Password"
          type="password"
          autoComplete="current-password"
          required
          {...register("password")}
        />
        <Trouble error={signIn.error} />
        <Button type="submit" variant="contained" size="large" disabled={signIn.isPending}>
          Sign in
        </Button>
        <Typography variant="body2" color="textSecondary">
          An administrator makes accounts: <code>gantrel person create NAME</code>
        </Typography>
      </Paper>
    </Box>
  );
}
