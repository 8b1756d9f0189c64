import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import type { GridColDef } from "@mui/x-data-grid";
import { Link } from "react-router";
import type { Calendar } from "../../api/types";
import { Coming } from "../../ui/Asked";
import { Empty } from "../../ui/Empty";
import { Grid } from "../../ui/Grid";
import { useMe } from "../../ui/me";
import { Trouble } from "../../ui/Trouble";
import { useCalendars } from "./useCalendars";

const columns: GridColDef<Calendar>[] = [
  { field: "name", headerName: "Calendar", flex: 1, minWidth: 160 },
  { field: "team", headerName: "Team", width: 110 },
  { field: "about", headerName: "What it is for", flex: 2, minWidth: 200 },
  { field: "others", headerName: "Made of", flex: 1, minWidth: 120, valueGetter: (_, row) => row.others.join(", ") },
  { field: "hours", headerName: "Hours", width: 110, cellClassName: "mono" },
  {
    field: "usedBy",
    headerName: "Schedules",
    width: 96,
    valueGetter: (_, row) => row.usedBy.length || "none",
  },
];

/** Which days are kept to, or kept off? */
export function CalendarsPage() {
  const me = useMe();
  const calendars = useCalendars();
  const mayDefine = Object.values(me.teams).some((deeds) => deeds.includes("define-calendars"));
  return (
    <>
      <title>Calendars · Gantrel</title>
      <Box sx={{ display: "flex", flexWrap: "wrap", alignItems: "center", gap: 1.5, mb: 1.5 }}>
        <Typography variant="h1" sx={{ flex: 1 }}>
          Calendars
        </Typography>
        {mayDefine && (
          <Button component={Link} to="/new-calendar" variant="contained">
            New calendar
          </Button>
        )}
      </Box>
      <Trouble error={calendars.error} />
      {calendars.isPending && <Coming />}
      {calendars.data?.length === 0 && (
        <Paper>
          <Empty
            title="There is no calendar yet"
            hint="Make one here, or bring one in: gantrel calendar import FILE.ics --name NAME --team TEAM"
          />
        </Paper>
      )}
      {calendars.data && calendars.data.length > 0 && (
        <Grid
          label="Calendars"
          rows={calendars.data}
          columns={columns}
          idOf={(calendar) => calendar.name}
          addressOf={(calendar) => `/calendars/${calendar.name}`}
        />
      )}
    </>
  );
}
