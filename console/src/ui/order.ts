import type { DataGridProps, GridColDef, GridValidRowModel } from "@mui/x-data-grid";

/** A list that the service sorts, over all its pages. */
export type Order = {
  /** What it is sorted by, as the service calls it, with a minus for the greatest first; empty for newest first. */
  sort: string;
  /** What the service calls a column, by the column's field; others cannot be sorted by. */
  by: Record<string, string>;
  onSort: (sort: string) => void;
};

/** The columns and the rest of a table whose rows the service sorts. */
export function sortedByService<R extends GridValidRowModel>(columns: GridColDef<R>[], order: Order) {
  const down = order.sort.startsWith("-");
  const name = order.sort.replace(/^-/, "");
  const field = Object.keys(order.by).find((each) => order.by[each] === name);
  const rest: Partial<DataGridProps<R>> = {
    sortingMode: "server",
    sortModel: field ? [{ field, sort: down ? "desc" : "asc" }] : [],
    onSortModelChange: ([sorted]) =>
      order.onSort(sorted?.sort ? (sorted.sort === "desc" ? "-" : "") + order.by[sorted.field] : ""),
  };
  return { columns: columns.map((column) => ({ ...column, sortable: column.field in order.by })), rest };
}

/** In words, for below the list. */
export function orderWords(columns: GridColDef[], order: Order): string {
  const name = order.sort.replace(/^-/, "");
  const column = columns.find((each) => order.by[each.field] === name);
  if (!column) return "newest first";
  return `sorted by ${column.headerName?.toLowerCase()}${order.sort.startsWith("-") ? ", greatest first" : ""}; of more than 10,000 the newest`;
}
