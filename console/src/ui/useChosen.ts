import type { GridRowSelectionModel } from "@mui/x-data-grid";
import { useEffect, useState } from "react";

/**
 * The rows of a list that are chosen, by their keys: only ever rows that are shown, and always as they are now. What a
 * filter hides is let go of, so that nothing happens to a row that nobody sees.
 */
export function useChosen<R>(rows: R[], idOf: (row: R) => string) {
  const [ids, setIds] = useState<ReadonlySet<string>>(new Set());
  const chosen = rows.filter((row) => ids.has(idOf(row)));
  const hidden = chosen.length < ids.size;
  useEffect(() => {
    if (hidden) setIds(new Set(rows.map(idOf).filter((id) => ids.has(id))));
  }, [hidden, rows, idOf, ids]);
  const model: GridRowSelectionModel = { type: "include", ids: new Set(chosen.map(idOf)) };
  const choose = (next: GridRowSelectionModel) =>
    setIds(new Set(rows.map(idOf).filter((id) => (next.type === "include") === next.ids.has(id))));
  return { chosen, model, choose, none: () => setIds(new Set()) };
}
