import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Refused } from "../../api/client";
import type { Roster } from "../../api/types";
import { MONO } from "../../theme";
import { FormDialog } from "../../ui/FormDialog";
import { Trouble } from "../../ui/Trouble";
import { readText } from "../../ui/textFile";
import { pastedAsCsv } from "./paste";
import { useLoadRows } from "./useRosters";

/** Puts rows from a spreadsheet or a CSV file in the place of those that are there. */
export function LoadRows({ roster, onClose }: { roster: Roster; onClose: () => void }) {
  const [text, setText] = useState("");
  const [unread, setUnread] = useState<unknown>(null);
  const load = useLoadRows(roster.name);
  const problems = load.error instanceof Refused ? load.error.problems : [];
  const take = (file: File | undefined) => {
    setUnread(null);
    if (file) readText(file).then(setText, setUnread);
  };
  return (
    <FormDialog
      title={`Rows of ${roster.name}`}
      width="md"
      changed={text !== "" && !load.isSuccess}
      onClose={onClose}
      actions={
        <Button
          variant="contained"
          disabled={text.trim() === "" || load.isPending}
          onClick={() => load.mutate(pastedAsCsv(text), { onSuccess: onClose })}
        >
          Put these rows in
        </Button>
      }
    >
      <Typography>
        The first line names the columns: {roster.columns.join(", ")}. A column include with yes or no leaves rows out.
        These rows take the place of those that are there.
      </Typography>
      <TextField
        multiline
        minRows={8}
        maxRows={16}
        label="Rows"
        placeholder={`${roster.columns.join("\t")}\n...`}
        value={text}
        onChange={(event) => setText(event.target.value)}
        slotProps={{ htmlInput: { sx: { fontFamily: MONO, fontSize: "0.8rem" }, spellCheck: false } }}
      />
      <Button component="label" variant="outlined" sx={{ justifySelf: "start" }}>
        Take a CSV file
        <input hidden type="file" accept=".csv,text/csv" onChange={(event) => take(event.target.files?.[0])} />
      </Button>
      {problems.length === 0 && <Trouble error={unread ?? load.error} />}
      {problems.map((wrong) => (
        <Typography key={`${wrong.line} ${wrong.message}`} color="error">
          {wrong.line ? `Line ${wrong.line}: ` : ""}
          {wrong.message}
        </Typography>
      ))}
    </FormDialog>
  );
}
