import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Paper from "@mui/material/Paper";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import type { GridColDef } from "@mui/x-data-grid";
import { Link, useSearchParams } from "react-router";
import type { JobSummary } from "../../api/types";
import { Coming } from "../../ui/Asked";
import { durationColumn } from "../../ui/durationColumn";
import { Empty } from "../../ui/Empty";
import { Grid } from "../../ui/Grid";
import { useMe } from "../../ui/me";
import { StateMark } from "../../ui/StateMark";
import { Time } from "../../ui/Time";
import { Trouble } from "../../ui/Trouble";
import { useJobs } from "./useJobs";

const columns: GridColDef<JobSummary>[] = [
  { field: "name", headerName: "Job", flex: 1, minWidth: 160 },
  { field: "team", headerName: "Team", width: 100 },
  { field: "about", headerName: "What it is for", flex: 2, minWidth: 180 },
  {
    field: "last",
    headerName: "Last outcome",
    width: 138,
    renderCell: ({ row }) => (row.last ? <StateMark state={row.last.state} /> : "never run"),
  },
  {
    field: "lastAt",
    headerName: "Last",
    width: 112,
    renderCell: ({ row }) => <Time at={row.last?.plannedAt} as="relative" />,
  },
  {
    field: "next",
    headerName: "Next",
    width: 152,
    renderCell: ({ row }) => (row.next ? <Time at={row.next} /> : byHand(row)),
  },
  {
    field: "usual",
    headerName: "Usually",
    width: 112,
    cellClassName: "mono",
    ...durationColumn((row) => row.usual),
  },
];

const byHand = (job: JobSummary) => (job.schedules.length > 0 ? "switched off" : "by hand");

/** What do we have? */
export function JobsPage() {
  const [address, setAddress] = useSearchParams();
  const me = useMe();
  const text = address.get("q") ?? "";
  const jobs = useJobs(text, address.get("team") ?? "");
  const mayDefine = Object.values(me.teams).some((deeds) => deeds.includes("define-jobs"));
  return (
    <>
      <title>Jobs · Gantrel</title>
      <Box sx={{ display: "flex", flexWrap: "wrap", alignItems: "center", gap: 1.5, mb: 1.5 }}>
        <Typography variant="h1">Jobs</Typography>
        <TextField
          label="Words in name or purpose"
          value={text}
          onChange={(event) => setAddress(event.target.value ? { q: event.target.value } : {}, { replace: true })}
          sx={{ width: 240 }}
        />
        {mayDefine && (
          <>
            <Button component={Link} to="/starters" variant="outlined" sx={{ ml: "auto" }}>
              Starters
            </Button>
            <Button component={Link} to="/new-job" variant="contained">
              New job
            </Button>
          </>
        )}
      </Box>
      <Trouble error={jobs.error} />
      {jobs.isPending && <Coming />}
      {jobs.data?.length === 0 && (
        <Paper>
          <Empty
            title={text ? "No job is like that" : "There is no job yet"}
            hint={text ? "Try fewer letters." : "Make one here, or bring one in: gantrel import FILE"}
          />
        </Paper>
      )}
      {jobs.data && jobs.data.length > 0 && (
        <Grid
          label="Jobs"
          rows={jobs.data}
          columns={columns}
          idOf={(job) => job.name}
          addressOf={(job) => `/jobs/${job.name}`}
        />
      )}
    </>
  );
}
