import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import type { GridColDef } from "@mui/x-data-grid";
import type { Roster } from "../../api/types";
import { Empty } from "../../ui/Empty";
import { Grid } from "../../ui/Grid";
import { Trouble } from "../../ui/Trouble";
import { useRosters } from "./useRosters";

const columns: GridColDef<Roster>[] = [
  { field: "name", headerName: "Roster", flex: 1, minWidth: 150 },
  { field: "team", headerName: "Team", width: 110 },
  { field: "about", headerName: "What it is for", flex: 2, minWidth: 200 },
  { field: "rows", headerName: "Rows", flex: 1, minWidth: 130, valueGetter: (_, row) => row.source ?? row.rows },
  { field: "columns", headerName: "Columns", flex: 1, minWidth: 110, valueGetter: (_, row) => row.columns.join(", ") },
  { field: "key", headerName: "Handled once by", width: 130, valueGetter: (_, row) => row.key.join(", ") },
];

/** Over which tables of values do jobs run? */
export function RostersPage() {
  const rosters = useRosters();
  return (
    <>
      <title>Rosters · Gantrel</title>
      <Typography variant="h1" sx={{ mb: 1.5 }}>
        Rosters
      </Typography>
      <Trouble error={rosters.error} />
      {rosters.data?.length === 0 && (
        <Paper>
          <Empty
            title="There is no roster yet"
            hint="A roster is a table of values that a job runs over. Bring one in: gantrel import FILE.yaml"
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
