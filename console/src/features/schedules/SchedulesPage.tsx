import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Paper from "@mui/material/Paper";
import Switch from "@mui/material/Switch";
import TextField from "@mui/material/TextField";
import Tooltip from "@mui/material/Tooltip";
import Typography from "@mui/material/Typography";
import type { GridColDef } from "@mui/x-data-grid";
import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import type { Schedule } from "../../api/types";
import { Coming } from "../../ui/Asked";
import { Empty } from "../../ui/Empty";
import { Grid } from "../../ui/Grid";
import { useMe } from "../../ui/me";
import { StateMark } from "../../ui/StateMark";
import { Time } from "../../ui/Time";
import { Trouble } from "../../ui/Trouble";
import { useChosen } from "../../ui/useChosen";
import { useSchedules, useSwitchMany } from "./useSchedules";

const idOf = (schedule: Schedule) => `${schedule.job}/${schedule.name}`;

const daysWords = ({ calendar, except, shift }: Schedule) =>
  [calendar, except && `not ${except}`, shift && shift !== "skip" && shift].filter(Boolean).join(", ");

/** When does everything start? One list, with switches. */
export function SchedulesPage() {
  const [address, setAddress] = useSearchParams();
  /** What was switched together last, to be undone exactly. */
  const [last, setLast] = useState<{ schedules: Schedule[]; on: boolean }>();
  const me = useMe();
  const schedules = useSchedules();
  const change = useSwitchMany();
  const text = address.get("q") ?? "";
  const words = text.toLowerCase().split(/\s+/);
  const rows = (schedules.data ?? []).filter((schedule) => {
    const about = `${schedule.job} ${schedule.name} ${schedule.team} ${schedule.phrase} ${daysWords(schedule)}`;
    return words.every((word) => about.toLowerCase().includes(word));
  });
  const maySwitch = (schedule: Schedule) => (me.teams[schedule.team] ?? []).includes("switch-schedules");
  const columns: GridColDef<Schedule>[] = [
    {
      field: "on",
      headerName: "On",
      width: 66,
      renderCell: ({ row }) => (
        <Switch
          size="small"
          checked={row.on}
          disabled={!maySwitch(row) || change.isPending}
          onClick={(event) => event.stopPropagation()}
          onChange={(event) => change.mutate({ schedules: [row], on: event.target.checked })}
          slotProps={{ input: { "aria-label": `${row.job} / ${row.name} is ${row.on ? "on" : "off"}` } }}
        />
      ),
    },
    { field: "job", headerName: "Job", flex: 1, minWidth: 140 },
    { field: "name", headerName: "Schedule", width: 124 },
    { field: "team", headerName: "Team", width: 84 },
    { field: "phrase", headerName: "When", flex: 2, minWidth: 200 },
    { field: "calendar", headerName: "Days", width: 104, valueGetter: (_, row) => daysWords(row) },
    {
      field: "next",
      headerName: "Next",
      width: 140,
      renderCell: ({ row }) =>
        row.next.length > 0 ? <Time at={row.next[0]} zone={row.zone} /> : row.on ? "never again" : "switched off",
    },
    {
      field: "last",
      headerName: "Last outcome",
      width: 124,
      renderCell: ({ row }) => (row.last ? <StateMark state={row.last.state} /> : "nothing yet"),
    },
  ];
  const { chosen, model, choose, none } = useChosen(rows, idOf);
  const switchable = chosen.filter(maySwitch);
  const switchMany = (schedules: Schedule[], on: boolean) =>
    change.mutate(
      { schedules, on },
      {
        onSuccess: () => {
          setLast({ schedules, on });
          none();
        },
      },
    );
  return (
    <>
      <title>Schedules · Gantrel</title>
      <Box sx={{ display: "flex", flexWrap: "wrap", alignItems: "center", gap: 1.5, mb: 1.5 }}>
        <Typography variant="h1">Schedules</Typography>
        <TextField
          label="Words"
          value={text}
          onChange={(event) => setAddress(event.target.value ? { q: event.target.value } : {}, { replace: true })}
          sx={{ width: 220 }}
        />
        <Typography color="textSecondary" sx={{ flex: 1, minWidth: 120 }}>
          {!schedules.data
            ? ""
            : chosen.length === 0
              ? `${rows.filter((row) => row.on).length} of ${rows.length} are on`
              : switchable.length < chosen.length
                ? `${chosen.length} chosen, ${switchable.length} of which you may switch`
                : `${chosen.length} chosen`}
        </Typography>
        {[false, true].map((on) => (
          <SwitchMany
            key={String(on)}
            on={on}
            schedules={switchable.filter((row) => row.on !== on)}
            busy={change.isPending}
            onSwitch={switchMany}
          />
        ))}
      </Box>
      {last && (
        <Alert
          severity="info"
          sx={{ mb: 1.5 }}
          onClose={() => setLast(undefined)}
          action={
            <Button
              size="small"
              disabled={change.isPending}
              onClick={() =>
                change.mutate({ schedules: last.schedules, on: !last.on }, { onSuccess: () => setLast(undefined) })
              }
            >
              Undo
            </Button>
          }
        >
          Now {last.on ? "on" : "off"}: {last.schedules.map((each) => `${each.job} / ${each.name}`).join(", ")}
        </Alert>
      )}
      <Trouble error={schedules.error ?? change.error} />
      {schedules.isPending && <Coming />}
      {schedules.data && rows.length === 0 && (
        <Paper>
          <Empty
            title={text ? "No schedule is like that" : "Nothing starts by itself yet"}
            hint={text ? "Try fewer words." : "A job gets its schedules on its own page."}
          >
            <Button component={Link} to="/jobs">
              To the jobs
            </Button>
          </Empty>
        </Paper>
      )}
      {rows.length > 0 && (
        <Grid
          label="Schedules"
          rows={rows}
          columns={columns}
          idOf={idOf}
          addressOf={(row) => `/jobs/${row.job}/schedules/${row.name}`}
          linked="job"
          selection={{ model, choose }}
        />
      )}
    </>
  );
}

type SwitchManyProps = {
  on: boolean;
  schedules: Schedule[];
  busy: boolean;
  onSwitch: (schedules: Schedule[], on: boolean) => void;
};

/** Switches what is chosen and shown; it says how many that are, and which. */
function SwitchMany({ on, schedules, busy, onSwitch }: SwitchManyProps) {
  const names = schedules.map(idOf);
  const which = names.length > 12 ? `${names.slice(0, 12).join(", ")} and ${names.length - 12} more` : names.join(", ");
  return (
    <Tooltip title={which}>
      <span>
        <Button variant="outlined" disabled={names.length === 0 || busy} onClick={() => onSwitch(schedules, on)}>
          Switch {on ? "on" : "off"} {names.length > 0 && names.length}
        </Button>
      </span>
    </Tooltip>
  );
}
