import { DataGrid, type GridColDef, type GridRowSelectionModel, type GridValidRowModel } from "@mui/x-data-grid";
import { useNavigate } from "react-router";
import { MONO } from "../theme";

/** The page's own nonce, without which its policy lets no inline style in. */
const nonce = document.querySelector<HTMLMetaElement>('meta[name="csp-nonce"]')?.content;

type Props<R extends GridValidRowModel> = {
  label: string;
  rows: R[];
  columns: GridColDef<R>[];
  idOf: (row: R) => string | number;
  addressOf: (row: R) => string;
  /** Rows can be chosen, many at once, where somebody wants to hear of it. */
  onSelect?: (model: GridRowSelectionModel) => void;
};

/** The one table: 36 px a row, arrows move, Enter and a click open the row's page. */
export function Grid<R extends GridValidRowModel>({ label, rows, columns, idOf, addressOf, onSelect }: Props<R>) {
  const navigate = useNavigate();
  return (
    <DataGrid
      aria-label={label}
      rows={rows}
      columns={columns.map((column) => ({ sortable: false, ...column }))}
      getRowId={idOf}
      nonce={nonce}
      rowHeight={36}
      columnHeaderHeight={36}
      hideFooter
      disableColumnMenu
      disableRowSelectionOnClick
      checkboxSelection={onSelect !== undefined}
      onRowSelectionModelChange={onSelect}
      onRowClick={({ row }) => navigate(addressOf(row))}
      onCellKeyDown={({ row }, event) => {
        if (event.key === "Enter" && !(event.target as Element).closest("input")) navigate(addressOf(row));
      }}
      sx={{
        bgcolor: "background.paper",
        borderColor: "divider",
        fontSize: "0.86rem",
        "& .MuiDataGrid-row": { cursor: "pointer" },
        "& .MuiDataGrid-columnHeaderTitle": { fontWeight: 650, color: "text.secondary" },
        "& .mono": { fontFamily: MONO, fontSize: "0.82rem" },
      }}
    />
  );
}
