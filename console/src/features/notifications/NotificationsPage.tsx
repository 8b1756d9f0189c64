import Link from "@mui/material/Link";
import type { GridColDef } from "@mui/x-data-grid";
import { Link as RouterLink } from "react-router";
import type { Delivery } from "../../api/types";
import { PagedTable } from "../../ui/PagedTable";
import { Time } from "../../ui/Time";

const columns: GridColDef<Delivery>[] = [
  { field: "madeAt", headerName: "Written", width: 140, renderCell: ({ row }) => <Time at={row.madeAt} /> },
  {
    field: "run",
    headerName: "Run",
    width: 80,
    cellClassName: "mono",
    renderCell: ({ row }) => (
      <Link component={RouterLink} to={`/runs/${row.run}`}>
        {row.run}
      </Link>
    ),
  },
  { field: "address", headerName: "To", flex: 1, minWidth: 180 },
  { field: "subject", headerName: "Subject", flex: 1.5, minWidth: 220 },
  {
    field: "state",
    headerName: "How far",
    width: 190,
    renderCell: ({ row }) =>
      row.sentAt ? (
        <span>
          sent <Time at={row.sentAt} />
        </span>
      ) : row.nextTryAt ? (
        <span>
          {row.state}, again <Time at={row.nextTryAt} />
        </span>
      ) : (
        row.state
      ),
  },
  { field: "tries", headerName: "Tries", width: 70, cellClassName: "mono" },
  { field: "lastError", headerName: "What went wrong", flex: 1, minWidth: 150 },
];

/** Who was told, and did it arrive? */
export function NotificationsPage() {
  return (
    <PagedTable<Delivery>
      title="Notifications"
      path="/api/v1/deliveries"
      columns={columns}
      empty={{
        title: "There is no mail that you may see",
        hint: "A job names under notify.failed who gets a mail when it fails. Operators of its team see the mails here.",
      }}
    />
  );
}
