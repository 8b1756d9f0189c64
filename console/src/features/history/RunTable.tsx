import type { GridColDef } from "@mui/x-data-grid";
import type { Run } from "../../api/types";
import { Grid } from "../../ui/Grid";
import type { Order } from "../../ui/order";
import { StateMark } from "../../ui/StateMark";
import { Time } from "../../ui/Time";
import { durationWords, millis } from "../../ui/times";

export const RUN_COLUMNS: GridColDef<Run>[] = [
  { field: "number", headerName: "Run", width: 68, cellClassName: "mono" },
  { field: "state", headerName: "Outcome", width: 124, renderCell: ({ row }) => <StateMark state={row.state} /> },
  { field: "job", headerName: "Job", flex: 1, minWidth: 158 },
  {
    field: "values",
    headerName: "Values",
    flex: 1,
    minWidth: 104,
    valueGetter: (_, row) => Object.values(row.parameters).join(", "),
  },
  { field: "plannedAt", headerName: "Planned", width: 140, renderCell: ({ row }) => <Time at={row.plannedAt} /> },
  {
    field: "took",
    headerName: "Took",
    width: 100,
    cellClassName: "mono",
    valueGetter: (_, row) => (row.took ? millis(row.took) : null),
    valueFormatter: (took: number | null) => (took === null ? "" : durationWords(took)),
  },
  { field: "cause", headerName: "Started by", width: 124, valueGetter: (_, row) => causeOf(row) },
  {
    field: "message",
    headerName: "What it said",
    flex: 2,
    minWidth: 200,
    valueGetter: (_, row) => row.waitingFor || (row.state === "succeeded" ? "" : row.message),
  },
];

function causeOf(run: Run): string {
  if (run.cause === "schedule") return `schedule ${run.causeRef}`;
  if (run.cause === "person") return run.starter ?? "";
  if (run.cause === "trigger") return `trigger ${run.step}`;
  if (run.cause === "chain") return `chain run ${run.causeRef}`;
  return `${run.cause} of ${run.causeRef}`;
}

/** Runs in a table; Enter or a click opens one. */
export function RunTable({ runs, hide = [], order }: { runs: Run[]; hide?: string[]; order?: Order }) {
  return (
    <Grid
      label="Runs"
      rows={runs}
      columns={RUN_COLUMNS.filter((column) => !hide.includes(column.field))}
      idOf={(run) => run.number}
      addressOf={(run) => `/runs/${run.number}`}
      order={order}
    />
  );
}
