import Box from "@mui/material/Box";
import Link from "@mui/material/Link";
import {
  ColumnsPanelTrigger,
  DataGrid,
  type DataGridProps,
  ExportCsv,
  type GridColDef,
  type GridColumnVisibilityModel,
  type GridRenderCellParams,
  type GridRowSelectionModel,
  type GridValidRowModel,
  Toolbar,
  ToolbarButton,
} from "@mui/x-data-grid";
import { type MouseEvent, useMemo } from "react";
import { Link as RouterLink, useNavigate } from "react-router";
import { MONO } from "../theme";
import { useChoice } from "./choices";
import { type Order, sortedByService } from "./order";
import { usePieces } from "./usePieces";

/** The page's own nonce, without which its policy lets no inline style in. */
const nonce = document.querySelector<HTMLMetaElement>('meta[name="csp-nonce"]')?.content;
/** So many rows are on a page of a list that is longer. */
const ROWS = 100;
/** So many are seen at once, roughly. */
const ABOUT_A_PAGE = 40;
const ROWS_A_PIECE = 8;
/** With the table itself come few, as that is the most to draw at once. */
const FIRST_ROWS = 3;
const ROW_HEIGHT = 36;

/** The one look of tables: 36 px a row, arrows move. */
export function PlainGrid<R extends GridValidRowModel>({ columns, rows = [], sx, ...more }: DataGridProps<R>) {
  // a table is costly to draw, so what stands around it is drawn before it, and its rows a few with each frame
  const seen = Math.min(rows.length, ABOUT_A_PAGE);
  const drawn = usePieces(Math.ceil(Math.max(0, seen - FIRST_ROWS) / ROWS_A_PIECE) + 1, "table", 1);
  // the same ones for each piece, or the table would reckon all columns anew with it
  const plain = useMemo(() => columns.map((column) => ({ sortable: false, ...column })), [columns]);
  const height = ROW_HEIGHT * (1 + seen);
  if (drawn === 0) return <Box sx={{ height }} />;
  const piece = FIRST_ROWS + (drawn - 1) * ROWS_A_PIECE;
  const coming = piece < seen;
  return (
    <DataGrid
      rows={coming ? rows.slice(0, piece) : rows}
      columns={plain}
      nonce={nonce}
      rowHeight={ROW_HEIGHT}
      columnHeaderHeight={ROW_HEIGHT}
      hideFooter={rows.length <= ROWS}
      disableColumnMenu
      disableColumnFilter
      disableRowSelectionOnClick
      sx={[
        {
          bgcolor: "background.paper",
          borderColor: "divider",
          fontSize: "0.86rem",
          // a page that is come back to stands where it stood, also before all rows are drawn
          minHeight: coming && rows.length <= ABOUT_A_PAGE ? height : undefined,
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
  /** The column whose cells are links to the rows' pages; the first, where nothing is said. */
  linked?: string;
  /** Whether the whole list is here, so that it can be sorted; a page of the service's is in the service's order. */
  whole?: boolean;
  /** Where the service sorts it. */
  order?: Order;
  /** Rows can be chosen, many at once, where somebody wants to hear of it. */
  selection?: { model: GridRowSelectionModel; choose: (model: GridRowSelectionModel) => void };
};

/**
 * Things that have pages: Enter and a click open that of a row, with Ctrl or the middle button in a tab of its own. Columns
 * can be chosen, which is kept for the person, and what is shown can be saved as CSV.
 */
export function Grid<R extends GridValidRowModel>(props: Props<R>) {
  const { label, rows, columns, idOf, addressOf, linked = columns[0]?.field, order, selection } = props;
  const whole = props.whole ?? order === undefined;
  const sorted = order ? sortedByService(columns, order) : { columns, rest: {} };
  const navigate = useNavigate();
  const bar = useListBar(label);
  const open = (row: R, event: { ctrlKey: boolean; metaKey: boolean; shiftKey: boolean }) => {
    if (event.ctrlKey || event.metaKey || event.shiftKey) window.open(addressOf(row), "_blank", "noopener");
    else navigate(addressOf(row));
  };
  const middle = (event: MouseEvent) => {
    const id = (event.target as Element).closest("[data-id]")?.getAttribute("data-id");
    const row = rows.find((each) => String(idOf(each)) === id);
    if (event.button === 1 && row && !(event.target as Element).closest("a")) {
      event.preventDefault();
      window.open(addressOf(row), "_blank", "noopener");
    }
  };
  return (
    <Box onAuxClick={middle} sx={rows.length > TALL ? WINDOWED : { minWidth: 0 }}>
      <PlainGrid
        aria-label={label}
        rows={rows}
        {...sorted.rest}
        columns={sorted.columns.map((column) => ({
          sortable: whole,
          ...column,
          ...(column.field === linked ? { renderCell: linkTo(addressOf, column) } : {}),
        }))}
        getRowId={idOf}
        {...bar}
        pageSizeOptions={[ROWS]}
        checkboxSelection={selection !== undefined}
        rowSelectionModel={selection?.model}
        onRowSelectionModelChange={selection?.choose}
        onRowClick={({ row }, event) => {
          if (!(event.target as Element).closest("a")) open(row, event);
        }}
        onCellKeyDown={({ row }, event) => {
          const target = event.target as Element;
          if (event.key === "Enter" && !target.closest("input, button, a")) open(row, event);
        }}
        sx={{ "& .MuiDataGrid-row": { cursor: "pointer" } }}
      />
    </Box>
  );
}

function linkTo<R extends GridValidRowModel>(addressOf: (row: R) => string, column: GridColDef<R>) {
  return (cell: GridRenderCellParams<R>) => (
    <Link component={RouterLink} to={addressOf(cell.row)} color="inherit" underline="hover" tabIndex={cell.tabIndex}>
      {column.renderCell ? column.renderCell(cell) : String(cell.formattedValue ?? cell.value ?? "")}
    </Link>
  );
}

/** A list of more rows scrolls in itself: only what is in view is on the page, and its head stays in sight. */
const TALL = 40;
const WINDOWED = {
  minWidth: 0,
  display: "flex",
  flexDirection: "column",
  maxHeight: "max(420px, calc(100vh - 150px))",
} as const;

type BarProps = { csvOptions?: { fileName?: string; utf8WithBom?: boolean } };

function ListBar({ csvOptions }: BarProps) {
  return (
    <Toolbar style={{ minHeight: 32, padding: "0 6px", border: 0, fontFamily: "inherit" }} aria-label="What is shown">
      <ColumnsPanelTrigger render={<ToolbarButton style={BAR_BUTTON} />}>Columns</ColumnsPanelTrigger>
      <ExportCsv options={csvOptions} render={<ToolbarButton style={BAR_BUTTON} />}>
        Save as CSV
      </ExportCsv>
    </Toolbar>
  );
}

const BAR_BUTTON = { fontFamily: "inherit", fontSize: "0.78rem", padding: "2px 8px", borderRadius: 5 };

/** What stands above a list: which columns it has, which is kept for the person, and what is shown as CSV. */
export function useListBar(label: string) {
  const [visible, setVisible] = useVisible(label);
  return {
    showToolbar: true,
    slots: { toolbar: ListBar },
    slotProps: {
      toolbar: { csvOptions: { fileName: label.toLowerCase().replaceAll(" ", "-"), utf8WithBom: true } },
    },
    columnVisibilityModel: visible,
    onColumnVisibilityModelChange: setVisible,
  };
}

/** Which columns of a list are shown, as somebody chose. */
function useVisible(label: string) {
  const [chosen, choose] = useChoice<string>(`columns:${label}`, "{}");
  const visible = useMemo<GridColumnVisibilityModel>(() => {
    try {
      return JSON.parse(chosen);
    } catch {
      return {};
    }
  }, [chosen]);
  return [visible, (next: GridColumnVisibilityModel) => choose(JSON.stringify(next))] as const;
}
