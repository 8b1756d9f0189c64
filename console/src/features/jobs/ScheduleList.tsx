import Box from "@mui/material/Box";
import Switch from "@mui/material/Switch";
import Typography from "@mui/material/Typography";
import type { Job, Schedule } from "../../api/types";
import { Trouble } from "../../ui/Trouble";
import { ownZone, zoneName } from "../../ui/times";
import { NextTimes } from "./NextTimes";
import { useSwitch } from "./useJobs";

export function ScheduleList({ job }: { job: Job }) {
  if (job.schedules.length === 0) {
    return <Typography color="textSecondary">None: it starts by hand, or as a step of a chain.</Typography>;
  }
  return (
    <Box sx={{ display: "grid", gap: 2, gridTemplateColumns: "minmax(0, 1fr)" }}>
      {job.schedules.map((schedule) => (
        <One key={schedule.name} schedule={schedule} maySwitch={job.mayDo.includes("switch-schedules")} />
      ))}
    </Box>
  );
}

function One({ schedule, maySwitch }: { schedule: Schedule; maySwitch: boolean }) {
  const change = useSwitch(schedule);
  const values = Object.entries(schedule.with).map(([name, value]) => `${name} = ${value}`);
  return (
    <Box>
      <Box sx={{ display: "flex", alignItems: "center", gap: 1 }}>
        <Box sx={{ flex: 1, minWidth: 0 }}>
          <b>{schedule.name}</b>: {schedule.phrase} ({zoneName(schedule.zone)})
          {values.length > 0 && (
            <Box sx={{ color: "text.secondary", fontSize: "0.82rem" }}>with {values.join(", ")}</Box>
          )}
        </Box>
        <Switch
          size="small"
          checked={schedule.on}
          disabled={!maySwitch || change.isPending}
          onChange={(event) => change.mutate(event.target.checked)}
          slotProps={{ input: { "aria-label": `Schedule ${schedule.name} is ${schedule.on ? "on" : "off"}` } }}
        />
      </Box>
      <Trouble error={change.error} />
      {schedule.on ? (
        <NextTimes times={schedule.next} zones={[schedule.zone, "UTC", ownZone()]} />
      ) : (
        <Typography color="textSecondary">Switched off: nothing comes due.</Typography>
      )}
    </Box>
  );
}
