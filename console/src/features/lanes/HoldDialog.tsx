import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { Choice } from "../../ui/Choice";
import { FormDialog } from "../../ui/FormDialog";
import { MomentField } from "../../ui/MomentField";
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
  const instant = (local: string) => (local ? new Date(local.replace(" ", "T")).toISOString() : undefined);
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
    <MomentField label={label} value={value} help={help} onChange={set} />
  );
  return (
    <FormDialog
      title="Hold work"
      changed={why + from + until !== "" && !work.isSuccess}
      onClose={onClose}
      actions={
        <Button
          variant="contained"
          onClick={lay}
          disabled={work.isPending || why.trim() === "" || (on !== "service" && name.trim() === "")}
        >
          Hold it
        </Button>
      }
    >
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
    </FormDialog>
  );
}
