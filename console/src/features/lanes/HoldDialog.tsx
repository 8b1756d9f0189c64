import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { Choice } from "../../ui/Choice";
import { useMe } from "../../ui/me";
import { Trouble } from "../../ui/Trouble";
import { useWorkHolds } from "./useLanes";

/** A hold to be laid: on what, why, from when until when, and what becomes of the work. */
export function HoldDialog({ on: chosen, name: named, onClose }: { on: string; name: string; onClose: () => void }) {
  const me = useMe();
  const work = useWorkHolds();
  const [on, setOn] = useState(chosen);
  const [name, setName] = useState(named);
  const [why, setWhy] = useState("");
  const [from, setFrom] = useState("");
  const [until, setUntil] = useState("");
  const [due, setDue] = useState("keep");
  const [running, setRunning] = useState("finish");
  const instant = (local: string) => (local ? new Date(local).toISOString() : undefined);
  const lay = () =>
    work.mutate(
      {
        lay: {
          on,
          name: on === "service" ? undefined : name.trim(),
          from: instant(from),
          until: instant(until),
          due,
          running,
          why,
        },
      },
      { onSuccess: onClose },
    );
  const time = (label: string, value: string, set: (value: string) => void, help: string) => (
    <TextField
      size="small"
      type="datetime-local"
      label={label}
      value={value}
      helperText={help}
      onChange={(event) => set(event.target.value)}
      slotProps={{ inputLabel: { shrink: true } }}
    />
  );
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="hold-title">
      <DialogTitle id="hold-title">Hold something</DialogTitle>
      <DialogContent sx={{ display: "grid", gap: 2, pt: "8px !important" }}>
        <Choice
          label="What"
          value={on}
          options={me.administrator ? ["job", "team", "lane", "service"] : ["job", "team", "lane"]}
          onChange={setOn}
        />
        {on !== "service" && (
          <TextField
            size="small"
            label={`Name of the ${on}`}
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
        )}
        <TextField
          size="small"
          label="Why"
          value={why}
          helperText="who wonders why nothing starts is told it"
          onChange={(event) => setWhy(event.target.value)}
        />
        {time("From", from, setFrom, "by this device's clock; empty for now")}
        {time("Until", until, setUntil, "empty until somebody ends it")}
        <Choice
          label="What comes due meanwhile"
          value={due}
          options={["keep", "skip"]}
          help="kept, it starts when the hold is over"
          onChange={setDue}
        />
        <Choice
          label="What is under way"
          value={running}
          options={["finish", "stop"]}
          help="stop: it is asked to stop when the hold begins"
          onChange={setRunning}
        />
        <Trouble error={work.error} />
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Not now</Button>
        <Button
          variant="contained"
          onClick={lay}
          disabled={work.isPending || why.trim() === "" || (on !== "service" && name.trim() === "")}
        >
          Hold it
        </Button>
      </DialogActions>
    </Dialog>
  );
}
