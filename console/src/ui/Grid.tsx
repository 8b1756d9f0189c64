import {
  DataGrid,
  type DataGridProps,
  type GridColDef,
  type GridRowSelectionModel,
  type GridValidRowModel,
} from "@mui/x-data-grid";
import { useNavigate } from "react-router";
import { MONO } from "../theme";

/** The page's own nonce, without which its policy lets no inline style in. */
const nonce = document.querySelector<HTMLMetaElement>('meta[name="csp-nonce"]')?.content;

/** The one look of tables: 36 px a row, arrows move. */
export function PlainGrid<R extends GridValidRowModel>({ columns, sx, ...more }: DataGridProps<R>) {
  return (
    <DataGrid
      columns={columns.map((column) => ({ sortable: false, ...column }))}
      nonce={nonce}
      rowHeight={36}
      columnHeaderHeight={36}
      hideFooter
      disableColumnMenu
      disableRowSelectionOnClick
      sx={[
        {
          bgcolor: "background.paper",
          borderColor: "divider",
          fontSize: "0.86rem",
          "& .MuiDataGrid-columnHeaderTitle": { fontWeight: 650, color: "text.secondary" },
          "& .mono": { fontFamily: MONO, fontSize: "0.82rem" },
        },
        ...(Array.isArray(sx) ? sx : [sx]),
      ]}
      {...more}
    />
  );
}

type Props<R extends GridValidRowModel> = {
  label: string;
  rows: R[];
  columns: GridColDef<R>[];
  idOf: (row: R) => string | number;
  addressOf: (row: R) => string;
  /** Rows can be chosen, many at once, where somebody wants to hear of it. */
  onSelect?: (model: GridRowSelectionModel) => void;
};

/** Things that have pages: Enter and a click open that of a row. */
export function Grid<R extends GridValidRowModel>({ label, rows, columns, idOf, addressOf, onSelect }: Props<R>) {
  const navigate = useNavigate();
  return (
    <PlainGrid
      aria-label={label}
      rows={rows}
      columns={columns}
      getRowId={idOf}
      checkboxSelection={onSelect !== undefined}
      onRowSelectionModelChange={onSelect}
      onRowClick={({ row }) => navigate(addressOf(row))}
      onCellKeyDown={({ row }, event) => {
        if (event.key === "Enter" && !(event.target as Element).closest("input")) navigate(addressOf(row));
      }}
      sx={{ "& .MuiDataGrid-row": { cursor: "pointer" } }}
    />
  );
}
