import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { useGridApiRef } from "@mui/x-data-grid";
import { type ClipboardEvent, useEffect, useState } from "react";
import type { Roster } from "../../api/types";
import { PlainGrid } from "../../ui/Grid";
import { OfferedDraft } from "../../ui/OfferedDraft";
import { Pager } from "../../ui/Pager";
import { Panel } from "../../ui/Panel";
import { useGuard } from "../../ui/useGuard";
import { EditBar } from "./EditBar";
import { LoadRows } from "./LoadRows";
import { RowClashes } from "./RowClashes";
import { rowColumns } from "./rowColumns";
import { addRow, emptyRow, isEdited, pasteCells, setCell, setIncluded, toggleRemoved, withEdits } from "./rowEdits";
import { useKeptEdits } from "./useKeptEdits";
import { useRosterRows } from "./useRosters";

/** The rows that are written down: a grid to edit in, with what became of each row last. */
export function RowsTable({ roster }: { roster: Roster }) {
  const [after, setAfter] = useState(0);
  const [loading, setLoading] = useState(false);
  const grid = useGridApiRef();
  const rows = useRosterRows(roster.name, after);
  const page = rows.data?.body ?? [];
  const kept = useKeptEdits(roster.name, page, rows.data?.tag);
  const { edits, setEdits } = kept;
  const lastPage = rows.data?.next === undefined;
  const original = (place: number) => page.find((row) => row.place === place) ?? emptyRow(place);
  useGuard(isEdited(edits), `your edits of the rows of ${roster.name}`);
  // whoever asks for a new row wants to write in it
  useEffect(() => {
    if (edits.added > 0) grid.current?.setCellFocus(-edits.added, roster.columns[0] ?? "");
  }, [edits.added, roster.columns, grid]);
  const paste = (event: ClipboardEvent) => {
    const cell = grid.current?.state.focus.cell;
    const text = event.clipboardData.getData("text/plain");
    const writing = event.target instanceof HTMLInputElement && event.target.type === "text";
    if (!roster.mayChange || writing || !cell || !roster.columns.includes(cell.field)) return;
    event.preventDefault();
    const from = { place: Number(cell.id), column: cell.field };
    setEdits((before) => pasteCells(before, page, roster.columns, from, text, lastPage));
  };
  const columns = rowColumns(roster, {
    onInclude: (place, yes) => setEdits((before) => setIncluded(before, original(place), yes)),
    onRemove: (place) => setEdits((before) => toggleRemoved(before, place)),
  });
  const shown = withEdits(page, edits);
  return (
    <Panel title={`${(roster.rows ?? 0).toLocaleString("en")} rows`}>
      {roster.mayChange && (
        <EditBar
          roster={roster}
          kept={kept}
          page={rows}
          onAdd={() => setEdits(addRow)}
          onLoad={() => setLoading(true)}
        />
      )}
      {kept.offered && roster.mayChange && (
        <OfferedDraft what="Edits of rows" at={kept.offered.at} onTake={kept.takeOffered} onDrop={kept.forget} />
      )}
      {kept.overtaken && <RowClashes overtaken={kept.overtaken} columns={roster.columns} />}
      {rows.data && shown.length === 0 && (
        <Typography color="textSecondary">
          No rows yet. Add one, paste some from a spreadsheet, or load a CSV file.
        </Typography>
      )}
      {shown.length > 0 && (
        <Box onPaste={paste}>
          <PlainGrid
            apiRef={grid}
            aria-label="Rows"
            rows={shown}
            columns={columns}
            getRowId={(row) => row.place}
            getRowClassName={({ row }) => row.fate}
            isCellEditable={({ row }) => roster.mayChange && row.fate !== "going"}
            processRowUpdate={(next, before) => {
              const column = roster.columns.find((each) => next.values[each] !== before.values[each]);
              if (column) {
                setEdits((all) => setCell(all, original(next.place), column, (next.values[column] ?? "").trim()));
              }
              return next;
            }}
            sx={{
              "& .changed, & .new": { bgcolor: "action.hover" },
              "& .going .MuiDataGrid-cell": { textDecoration: "line-through", color: "text.secondary" },
            }}
          />
        </Box>
      )}
      <Pager after={after} last={page.at(-1)?.place} more={!lastPage} onMove={setAfter} />
      {loading && <LoadRows roster={roster} onClose={() => setLoading(false)} />}
    </Panel>
  );
}
