import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import Switch from "@mui/material/Switch";
import type { GridColDef } from "@mui/x-data-grid";
import { Link as RouterLink } from "react-router";
import type { Roster } from "../../api/types";
import { StateMark } from "../../ui/StateMark";
import type { GridRow } from "./rowEdits";

type Asked = { onInclude: (place: number, yes: boolean) => void; onRemove: (place: number) => void };

/** The columns of a roster's grid: the row's place, its switch, what became of it, its values, and a way out. */
export function rowColumns(roster: Roster, { onInclude, onRemove }: Asked): GridColDef<GridRow>[] {
  const fixed: GridColDef<GridRow>[] = [
    { field: "#place", headerName: "Row", width: 64, valueGetter: (_, row) => (row.place > 0 ? row.place : "new") },
    {
      field: "#in",
      headerName: "In",
      width: 64,
      renderCell: ({ row }) => (
        <Switch
          size="small"
          checked={row.included}
          disabled={!roster.mayChange}
          onChange={(_, yes) => onInclude(row.place, yes)}
          slotProps={{ input: { "aria-label": `${named(row)} is included` } }}
        />
      ),
    },
    {
      field: "#last",
      headerName: "Last time",
      width: 132,
      renderCell: ({ row }) => (row.lastState ? <StateMark state={row.lastState} /> : "never run"),
    },
    {
      field: "#run",
      headerName: "Run",
      width: 72,
      renderCell: ({ row }) =>
        row.lastRun && (
          <Link component={RouterLink} to={`/runs/${row.lastRun}`}>
            {row.lastRun}
          </Link>
        ),
    },
  ];
  const values = roster.columns.map(
    (column): GridColDef<GridRow> => ({
      field: column,
      headerName: column,
      flex: 1,
      minWidth: 120,
      editable: true,
      valueGetter: (_, row) => row.values[column] ?? "",
      valueSetter: (value, row) => ({ ...row, values: { ...row.values, [column]: String(value ?? "") } }),
    }),
  );
  const way: GridColDef<GridRow> = {
    field: "#out",
    headerName: "",
    width: 92,
    renderCell: ({ row }) => (
      <Button
        size="small"
        onClick={() => onRemove(row.place)}
        aria-label={`${row.fate === "going" ? "keep" : "remove"} ${named(row)}`}
      >
        {row.fate === "going" ? "Keep" : "Remove"}
      </Button>
    ),
  };
  return roster.mayChange ? [...fixed, ...values, way] : [...fixed, ...values];
}

function named(row: GridRow): string {
  return row.place > 0 ? `row ${row.place}` : `new row ${-row.place}`;
}
