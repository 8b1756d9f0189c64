import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import Switch from "@mui/material/Switch";
import { useState } from "react";
import { Link as RouterLink } from "react-router";
import type { Firing, Job, Trigger } from "../../api/types";
import { Time } from "../../ui/Time";
import { Trouble } from "../../ui/Trouble";
import { TriggerDialog } from "./TriggerDialog";
import { useSwitchTrigger, useTriggers } from "./useEvents";

/** The triggers of a job: what each waits for, its switch, and what came of the last event. */
export function TriggerList({ job }: { job: Job }) {
  const triggers = useTriggers(job.name);
  const [open, setOpen] = useState("");
  return (
    <>
      <Trouble error={triggers.error} />
      <Box sx={{ display: "grid", gap: 2, gridTemplateColumns: "minmax(0, 1fr)" }}>
        {(triggers.data ?? []).map((trigger) => (
          <One
            key={trigger.name}
            trigger={trigger}
            maySwitch={job.mayDo.includes("switch-schedules")}
            onLook={() => setOpen(trigger.name)}
          />
        ))}
      </Box>
      {open && <TriggerDialog job={job.name} name={open} onClose={() => setOpen("")} />}
    </>
  );
}

type OneProps = { trigger: Trigger; maySwitch: boolean; onLook: () => void };

function One({ trigger, maySwitch, onLook }: OneProps) {
  const change = useSwitchTrigger(trigger.job);
  return (
    <Box>
      <Box sx={{ display: "flex", alignItems: "center", gap: 1 }}>
        <Box sx={{ flex: 1, minWidth: 0, overflowWrap: "anywhere" }}>
          <b>{trigger.name}</b>: {trigger.words}
        </Box>
        <Button onClick={onLook}>Look and try</Button>
        <Switch
          size="small"
          checked={trigger.switchedOn}
          disabled={!maySwitch || change.isPending}
          onChange={(event) => change.mutate({ name: trigger.name, on: event.target.checked })}
          slotProps={{ input: { "aria-label": `Trigger ${trigger.name} is ${trigger.switchedOn ? "on" : "off"}` } }}
        />
      </Box>
      <Trouble error={change.error} />
      <Box sx={{ color: "text.secondary", fontSize: "0.82rem", overflowWrap: "anywhere" }}>
        {!trigger.switchedOn && `Switched off by ${trigger.offBy}: what happens meanwhile starts nothing. `}
        {trigger.trouble && <Box sx={{ color: "outcome.amberText" }}>{trigger.trouble}</Box>}
        {trigger.last ? <Came firing={trigger.last} /> : "Nothing has come yet."}
      </Box>
    </Box>
  );
}

export function Came({ firing }: { firing: Firing }) {
  return (
    <>
      <Time at={firing.at} /> {firing.outcome}{" "}
      {firing.run && (
        <Link component={RouterLink} to={`/runs/${firing.run}`}>
          run {firing.run}
        </Link>
      )}{" "}
      {firing.why}
    </>
  );
}
