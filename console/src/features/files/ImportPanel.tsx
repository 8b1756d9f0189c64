import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { type DragEvent, useState } from "react";
import type { Imported } from "../../api/types";
import { useCall } from "../../api/useCall";
import { MONO } from "../../theme";
import { Trouble } from "../../ui/Trouble";
import { readText } from "../../ui/textFile";
import { useGuard } from "../../ui/useGuard";
import { Differences } from "./Differences";

type DefinitionFile = { name: string; text: string };

const LARGEST = 5_000_000;

/** Shows first what files would change, and brings them in when that is right; all of them or none. */
export function ImportPanel() {
  const [files, setFiles] = useState<DefinitionFile[]>([]);
  const [pasted, setPasted] = useState("");
  const [overEdits, setOverEdits] = useState(false);
  const [tooLarge, setTooLarge] = useState("");
  const [unread, setUnread] = useState<string[]>([]);
  const look = useCall<Imported[]>();
  const put = useCall<Imported[]>("jobs", "job", "calendars", "calendar", "rosters", "lanes", "tellings", "schedules");
  const all = pasted.trim() ? [...files, { name: "pasted", text: pasted }] : files;
  useGuard(all.length > 0 && !put.isSuccess, "the files that are not brought in yet");
  const reset = () => {
    look.reset();
    put.reset();
  };
  const read = async (given: FileList | null) => {
    if (!given) return;
    reset();
    const chosen = [...given];
    setTooLarge(
      chosen
        .filter((file) => file.size > LARGEST)
        .map((file) => file.name)
        .join(", "),
    );
    const taken = await Promise.allSettled(
      chosen
        .filter((file) => file.size <= LARGEST)
        .map(async (file) => ({ name: file.webkitRelativePath || file.name, text: await readText(file) })),
    );
    const fresh = taken.flatMap((one) => (one.status === "fulfilled" ? [one.value] : []));
    setUnread(taken.flatMap((one) => (one.status === "rejected" ? [String(one.reason.message)] : [])));
    setFiles((before) => [...before.filter((old) => !fresh.some(({ name }) => name === old.name)), ...fresh]);
  };
  const send = (dryRun: boolean) =>
    (dryRun ? look : put).mutate({
      method: "POST",
      path: `/api/v1/imports?dryRun=${dryRun}&overEdits=${overEdits}`,
      body: { files: all },
    });
  const drop = (event: DragEvent) => {
    event.preventDefault();
    void read(event.dataTransfer.files);
  };
  const found = put.data?.body ?? look.data?.body;
  return (
    <Box onDragOver={(event) => event.preventDefault()} onDrop={drop} sx={{ display: "grid", gap: 1.5 }}>
      <Typography color="textSecondary">
        Choose YAML or JSON files, drop them here, or paste a definition. Nothing is changed before you have seen what
        would be.
      </Typography>
      <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap", alignItems: "center" }}>
        <Button component="label" variant="outlined">
          Choose files
          <input type="file" multiple hidden accept=".yaml,.yml,.json" onChange={(event) => read(event.target.files)} />
        </Button>
        {files.map((file) => (
          <Button
            key={file.name}
            aria-label={`Leave out ${file.name}`}
            onClick={() => {
              reset();
              setFiles(files.filter((each) => each !== file));
            }}
          >
            {file.name} ✕
          </Button>
        ))}
      </Box>
      {unread.map((sentence) => (
        <Alert key={sentence} severity="error">
          {sentence}
        </Alert>
      ))}
      {tooLarge && <Alert severity="error">Too large, up to 5 MB would be right: {tooLarge}</Alert>}
      <TextField
        multiline
        minRows={3}
        maxRows={16}
        label="Or paste definitions"
        value={pasted}
        onChange={(event) => {
          reset();
          setPasted(event.target.value);
        }}
        slotProps={{ htmlInput: { spellCheck: false, style: { fontFamily: MONO, fontSize: "0.8rem" } } }}
      />
      <FormControlLabel
        control={<Checkbox checked={overEdits} onChange={(_, on) => setOverEdits(on)} />}
        label="Also over what was changed here since the last import; those changes stay as revisions"
      />
      <Box sx={{ display: "flex", gap: 1 }}>
        <Button variant="outlined" disabled={all.length === 0 || look.isPending} onClick={() => send(true)}>
          {look.isPending ? "Looking …" : "Show what would change"}
        </Button>
        <Button
          variant="contained"
          disabled={
            !look.data || put.isPending || put.isSuccess || look.data.body.every((one) => one.action === "leave")
          }
          onClick={() => send(false)}
        >
          {put.isPending ? "Bringing in …" : "Bring in"}
        </Button>
      </Box>
      <Trouble error={put.error ?? look.error} />
      {put.isSuccess && <Alert severity="success">They are brought in.</Alert>}
      {found && <Differences found={found} done={put.isSuccess} />}
    </Box>
  );
}
