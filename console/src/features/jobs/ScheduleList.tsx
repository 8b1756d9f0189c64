import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Switch from "@mui/material/Switch";
import Typography from "@mui/material/Typography";
import { Link as RouterLink } from "react-router";
import type { Job, Schedule } from "../../api/types";
import { Trouble } from "../../ui/Trouble";
import { durationWords, millis, ownZone, zoneName } from "../../ui/times";
import { useSwitchMany } from "../schedules/useSchedules";
import { NextTimes } from "./NextTimes";

export function ScheduleList({ job }: { job: Job }) {
  const add = job.mayDo.includes("define-jobs") && !job.retired && (
    <Box>
      <Button component={RouterLink} to={`/jobs/${job.name}/new-schedule`}>
        Add a schedule
      </Button>
    </Box>
  );
  if (job.schedules.length === 0) {
    return (
      <>
        <Typography color="textSecondary">
          None: it starts by hand, by its triggers, or as a step of a chain.
        </Typography>
        {add}
      </>
    );
  }
  return (
    <Box sx={{ display: "grid", gap: 2, gridTemplateColumns: "minmax(0, 1fr)" }}>
      {job.schedules.map((schedule) => (
        <One
          key={schedule.name}
          schedule={schedule}
          maySwitch={job.mayDo.includes("switch-schedules")}
          mayChange={job.mayDo.includes("define-jobs")}
        />
      ))}
      {add}
    </Box>
  );
}

const daysWords = ({ calendar, except, shift, window, from, until }: Schedule) =>
  [
    calendar && `on the days of ${calendar}`,
    except && `not on the days of ${except}`,
    shift && shift !== "skip" && `otherwise ${shift}`,
    window && `within ${durationWords(millis(window))}`,
    from && `from ${from}`,
    until && `until ${until}`,
  ]
    .filter(Boolean)
    .join(", ");

type OneProps = { schedule: Schedule; maySwitch: boolean; mayChange: boolean };

function One({ schedule, maySwitch, mayChange }: OneProps) {
  const change = useSwitchMany();
  const values = Object.entries(schedule.with).map(([name, value]) => `${name} = ${value}`);
  return (
    <Box>
      <Box sx={{ display: "flex", alignItems: "center", gap: 1 }}>
        <Box sx={{ flex: 1, minWidth: 0 }}>
          <b>{schedule.name}</b>: {schedule.phrase} ({zoneName(schedule.zone)})
          {daysWords(schedule) && (
            <Box sx={{ color: "text.secondary", fontSize: "0.82rem" }}>{daysWords(schedule)}</Box>
          )}
          {values.length > 0 && (
            <Box sx={{ color: "text.secondary", fontSize: "0.82rem" }}>with {values.join(", ")}</Box>
          )}
        </Box>
        <Button component={RouterLink} to={`/jobs/${schedule.job}/schedules/${schedule.name}`}>
          {mayChange ? "Change" : "Starts"}
        </Button>
        <Switch
          size="small"
          checked={schedule.on}
          disabled={!maySwitch || change.isPending}
          onChange={(event) => change.mutate({ schedules: [schedule], on: event.target.checked })}
          slotProps={{ input: { "aria-label": `Schedule ${schedule.name} is ${schedule.on ? "on" : "off"}` } }}
        />
      </Box>
      <Trouble error={change.error} />
      {schedule.on ? (
        <NextTimes times={schedule.next} zones={[schedule.zone, "UTC", ownZone()]} />
      ) : (
        <Typography color="textSecondary">
          Switched off: what comes due waits, and is skipped when it is switched on.
        </Typography>
      )}
    </Box>
  );
}
