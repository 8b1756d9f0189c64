import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import type { GridColDef } from "@mui/x-data-grid";
import { useState } from "react";
import { useNavigate } from "react-router";
import type { Roster } from "../../api/types";
import { Coming } from "../../ui/Asked";
import { Empty } from "../../ui/Empty";
import { Grid } from "../../ui/Grid";
import { useMe } from "../../ui/me";
import { Trouble } from "../../ui/Trouble";
import { RosterEditor } from "./RosterEditor";
import { useRosters } from "./useRosters";

const columns: GridColDef<Roster>[] = [
  { field: "name", headerName: "Roster", flex: 1, minWidth: 150 },
  { field: "team", headerName: "Team", width: 110 },
  { field: "about", headerName: "What it is for", flex: 2, minWidth: 200 },
  { field: "rows", headerName: "Rows", flex: 1, minWidth: 130, valueGetter: (_, row) => row.source ?? row.rows },
  { field: "columns", headerName: "Columns", flex: 1, minWidth: 110, valueGetter: (_, row) => row.columns.join(", ") },
  { field: "key", headerName: "Handled once by", width: 130, valueGetter: (_, row) => row.key.join(", ") },
];

const NEW_ROSTER = `roster: 
team: 
about: 
columns: [ day, route ]   # parameters of the job; or rows that are drawn: from: { csv: /srv/rows.csv }
key: [ route ]            # which record a row stands for; leave it out where every row counts
at-once: 1
`;

/** Over which tables of values do jobs run? */
export function RostersPage() {
  const rosters = useRosters();
  const me = useMe();
  const navigate = useNavigate();
  const [making, setMaking] = useState(false);
  const mayDefine = Object.values(me.teams).some((deeds) => deeds.includes("define-jobs"));
  return (
    <>
      <title>Rosters · Gantrel</title>
      <Box sx={{ display: "flex", flexWrap: "wrap", alignItems: "center", gap: 1.5, mb: 1.5 }}>
        <Typography variant="h1" sx={{ flex: 1 }}>
          Rosters
        </Typography>
        {mayDefine && (
          <Button variant="contained" disabled={making} onClick={() => setMaking(true)}>
            New roster
          </Button>
        )}
      </Box>
      <Trouble error={rosters.error} />
      {rosters.isPending && <Coming />}
      {making && (
        <Box sx={{ mb: 2 }}>
          <RosterEditor
            name=""
            written={NEW_ROSTER}
            onSaved={(name) => navigate(`/rosters/${name}`)}
            onLeave={() => setMaking(false)}
          />
        </Box>
      )}
      {rosters.data?.length === 0 && (
        <Paper>
          <Empty
            title="There is no roster yet"
            hint="A roster is a table of values that a job runs over. Write one here, or bring one in: gantrel import FILE.yaml"
          />
        </Paper>
      )}
      {rosters.data && rosters.data.length > 0 && (
        <Grid
          label="Rosters"
          rows={rosters.data}
          columns={columns}
          idOf={(roster) => roster.name}
          addressOf={(roster) => `/rosters/${roster.name}`}
        />
      )}
    </>
  );
}
