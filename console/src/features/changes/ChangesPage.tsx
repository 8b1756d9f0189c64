import Link from "@mui/material/Link";
import type { GridColDef } from "@mui/x-data-grid";
import { Link as RouterLink } from "react-router";
import type { Change } from "../../api/types";
import { useMe } from "../../ui/me";
import { type ListFilter, PagedTable } from "../../ui/PagedTable";
import { Time } from "../../ui/Time";

/** Where a thing is shown whose changes are told of. */
const PLACES: Record<string, string> = { job: "/jobs/", run: "/runs/", calendar: "/calendars/", roster: "/rosters/" };

const SORTS = { at: "at", person: "person", deed: "deed", name: "name", team: "team" };

const KINDS = [
  "job",
  "schedule",
  "run",
  "calendar",
  "roster",
  "lane",
  "hold",
  "credential",
  "team",
  "member",
  "person",
  "token",
  "notification",
];

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
  const me = useMe();
  const filters: ListFilter[] = [
    { name: "person", label: "Who" },
    { name: "kind", label: "Of what kind", options: KINDS },
    { name: "name", label: "To what" },
    { name: "team", label: "Team", options: Object.keys(me.teams), none: "all teams" },
  ];
  return (
    <PagedTable<Change>
      title="Changes"
      path="/api/v1/changes"
      columns={columns}
      sorts={SORTS}
      filters={filters}
      empty={{ title: "Nothing was changed", hint: "Whoever defines, starts, switches or lets in stands here." }}
    />
  );
}
