import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import type { GridColDef } from "@mui/x-data-grid";
import { useState } from "react";
import { useNavigate } from "react-router";
import type { Lane } from "../../api/types";
import { Coming } from "../../ui/Asked";
import { Empty } from "../../ui/Empty";
import { Grid } from "../../ui/Grid";
import { useMe } from "../../ui/me";
import { Trouble } from "../../ui/Trouble";
import { LaneEditor } from "./LaneEditor";
import { Places } from "./Places";
import { useLanes } from "./useLanes";

const state = (lane: Lane) =>
  lane.closedBy
    ? `closed by ${lane.closedBy}${lane.closedWhy ? `: ${lane.closedWhy}` : ""}`
    : lane.hold
      ? "on hold"
      : "open";

const columns: GridColDef<Lane>[] = [
  { field: "name", headerName: "Lane", flex: 1, minWidth: 150 },
  {
    field: "taken",
    headerName: "Places",
    width: 190,
    renderCell: ({ row }) => <Places taken={row.taken} width={row.width} />,
  },
  { field: "waiting", headerName: "Waiting", width: 90, type: "number" },
  { field: "state", headerName: "State", flex: 1, minWidth: 130, valueGetter: (_, row) => state(row) },
  { field: "team", headerName: "Team", width: 110 },
  { field: "about", headerName: "What it is for", flex: 2, minWidth: 180 },
];

const NEW_LANE = `lane: 
team: 
about: 
width: 1
for-teams: [ ]   # other teams whose jobs may use it
`;

/** Where do runs wait for each other? */
export function LanesPage() {
  const lanes = useLanes();
  const me = useMe();
  const navigate = useNavigate();
  const [making, setMaking] = useState(false);
  const mayDefine = Object.values(me.teams).some((deeds) => deeds.includes("define-jobs"));
  return (
    <>
      <title>Lanes · Gantrel</title>
      <Box sx={{ display: "flex", flexWrap: "wrap", alignItems: "center", gap: 1.5, mb: 1.5 }}>
        <Typography variant="h1" sx={{ flex: 1 }}>
          Lanes
        </Typography>
        {mayDefine && (
          <Button variant="contained" disabled={making} onClick={() => setMaking(true)}>
            New lane
          </Button>
        )}
      </Box>
      <Trouble error={lanes.error} />
      {lanes.isPending && <Coming />}
      {making && (
        <Box sx={{ mb: 2 }}>
          <LaneEditor
            name=""
            written={NEW_LANE}
            onSaved={(name) => navigate(`/lanes/${name}`)}
            onLeave={() => setMaking(false)}
          />
        </Box>
      )}
      {lanes.data?.length === 0 && (
        <Paper>
          <Empty
            title="There is no lane yet"
            hint="A lane is so many places that jobs share. Write one here, and name it in jobs: lanes: [ NAME ]"
          />
        </Paper>
      )}
      {lanes.data && lanes.data.length > 0 && (
        <Grid
          label="Lanes"
          rows={lanes.data}
          columns={columns}
          idOf={(lane) => lane.name}
          addressOf={(lane) => `/lanes/${lane.name}`}
        />
      )}
    </>
  );
}
