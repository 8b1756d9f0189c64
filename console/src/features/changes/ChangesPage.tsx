import Link from "@mui/material/Link";
import type { GridColDef } from "@mui/x-data-grid";
import { Link as RouterLink } from "react-router";
import type { Change } from "../../api/types";
import { PagedTable } from "../../ui/PagedTable";
import { Time } from "../../ui/Time";

/** Where a thing is shown whose changes are told of. */
const PLACES: Record<string, string> = { job: "/jobs/", run: "/runs/", calendar: "/calendars/", roster: "/rosters/" };

const columns: GridColDef<Change>[] = [
  { field: "at", headerName: "When", width: 140, renderCell: ({ row }) => <Time at={row.at} /> },
  { field: "person", headerName: "Who", width: 130 },
  { field: "deed", headerName: "What was done", width: 150 },
  {
    field: "name",
    headerName: "To",
    flex: 1,
    minWidth: 190,
    renderCell: ({ row }) => (
      <>
        {row.kind}&nbsp;
        {row.kind in PLACES ? (
          <Link component={RouterLink} to={`${PLACES[row.kind]}${row.name}`}>
            {row.name}
          </Link>
        ) : (
          row.name
        )}
      </>
    ),
  },
  { field: "team", headerName: "Team", width: 110 },
  { field: "detail", headerName: "More", flex: 1, minWidth: 160 },
];

/** Who changed what? */
export function ChangesPage() {
  return (
    <PagedTable<Change>
      title="Changes"
      path="/api/v1/changes"
      columns={columns}
      empty={{ title: "Nothing was changed", hint: "Whoever defines, starts, switches or lets in stands here." }}
    />
  );
}
