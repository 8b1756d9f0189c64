import Alert from "@mui/material/Alert";
import { Refused } from "../api/client";

/** What went wrong, all of it, each with its place. */
export function Trouble({ error }: { error: unknown }) {
  if (!error) return null;
  const problems = error instanceof Refused ? error.problems : [];
  return (
    <Alert severity="error" variant="outlined" role="alert" sx={{ my: 1 }}>
      {problems.length === 0 && (error instanceof Error ? error.message : String(error))}
      {problems.map((wrong) => (
        <div key={`${wrong.field}${wrong.line}${wrong.message}`}>
          {wrong.line ? `line ${wrong.line}, column ${wrong.column ?? 1}: ` : ""}
          {wrong.field ? <b>{wrong.field}: </b> : null}
          {wrong.message}
        </div>
      ))}
    </Alert>
  );
}
