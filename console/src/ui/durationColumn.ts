import type { GridColDef, GridValidRowModel } from "@mui/x-data-grid";
import { durationWords, millis } from "./times";

type Of<R> = (row: R) => string | undefined;

/** How a column shows lengths of time in words, and is sorted by how long they are; nothing where there is none. */
export function durationColumn<R extends GridValidRowModel>(
  length: Of<R>,
  remark: Of<R> = () => undefined,
): Pick<GridColDef<R>, "valueGetter" | "valueFormatter"> {
  return {
    valueGetter: (_, row) => millis(length(row) ?? "") || null,
    valueFormatter: (ms: number | null, row) =>
      ms === null ? "" : [durationWords(ms), remark(row)].filter(Boolean).join(", "),
  };
}
