import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useForm } from "react-hook-form";
import { Refused } from "../../api/client";
import { Trouble } from "../../ui/Trouble";
import { Definition } from "../jobs/Definition";
import { type Starter, useBringIn, useFill } from "./useStarters";

/** The blanks of a starter, and what comes of them. */
export function FillStarter({ starter }: { starter: Starter }) {
  const { register, handleSubmit } = useForm<Record<string, string>>();
  const fill = useFill(starter.name);
  const bringIn = useBringIn();
  const problems = fill.error instanceof Refused ? fill.error.problems : [];
  const names = starter.blanks.map((blank) => blank.name);
  const others = problems.filter((wrong) => !names.includes(wrong.field ?? ""));
  return (
    <Box
      component="form"
      noValidate
      onSubmit={handleSubmit((blanks) => fill.mutate(blanks))}
      sx={{ display: "grid", gap: 2, mt: 2, gridTemplateColumns: "minmax(0, 1fr)" }}
    >
      {starter.blanks.map(({ name, about, example }) => {
        const complaint = problems.find((wrong) => wrong.field === name)?.message;
        return (
          <TextField
            key={name}
            label={name}
            placeholder={example}
            error={complaint !== undefined}
            helperText={complaint ?? about}
            slotProps={{ inputLabel: { shrink: true } }}
            {...register(name)}
          />
        );
      })}
      {problems.length === 0 && <Trouble error={fill.error} />}
      {others.map((wrong) => (
        <Typography key={`${wrong.line} ${wrong.field}`} color="error">
          {wrong.line ? `Line ${wrong.line}: ` : ""}
          {wrong.field} {wrong.message}
        </Typography>
      ))}
      {fill.data && <Definition text={fill.data} />}
      <Trouble error={bringIn.error} />
      <Box sx={{ display: "flex", gap: 1 }}>
        <Button type="submit" variant={fill.data ? "outlined" : "contained"} disabled={fill.isPending}>
          Show the definition
        </Button>
        {fill.data && (
          <Button variant="contained" disabled={bringIn.isPending} onClick={() => bringIn.mutate(fill.data)}>
            Bring it in
          </Button>
        )}
      </Box>
    </Box>
  );
}
