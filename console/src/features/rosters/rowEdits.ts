import type { RosterRow } from "../../api/types";

/** A row of the grid: one that is written down, or one that is new and has a place below zero. */
export type GridRow = RosterRow & { fate: "same" | "changed" | "new" | "going" };

/**
 * Edits that are not saved yet, by the place of their row, so that they stay while somebody turns the pages. New rows
 * have the places -1, -2 and so on, the earliest first.
 */
export type RowEdits = {
  changed: Record<number, Record<string, string>>;
  included: Record<number, boolean>;
  removed: number[];
  added: number;
};

export const NO_EDITS: RowEdits = { changed: {}, included: {}, removed: [], added: 0 };

/** What the service is asked for; of a row that changes, only what is different. */
export type RowChanges = {
  changed: { place: number; values: Record<string, string>; included?: boolean }[];
  added: { values: Record<string, string>; included: boolean }[];
  removed: number[];
};

/** The rows of a page as they are with the edits; new ones follow them. */
export function withEdits(page: RosterRow[], edits: RowEdits): GridRow[] {
  const written = page.map((row): GridRow => {
    const { place } = row;
    const fate = edits.removed.includes(place) ? "going" : isChanged(edits, place) ? "changed" : "same";
    return { ...row, values: valuesOf(row, edits), included: edits.included[place] ?? row.included, fate };
  });
  return [...written, ...newPlaces(edits).map((place) => newRow(place, edits))];
}

/** A cell with another value. A value that is what is written down anyway is no edit. */
export function setCell(edits: RowEdits, row: RosterRow, column: string, value: string): RowEdits {
  const values = { ...edits.changed[row.place], [column]: value };
  if (value === (row.values[column] ?? "") && row.place > 0) delete values[column];
  const changed = { ...edits.changed, [row.place]: values };
  if (Object.keys(values).length === 0) delete changed[row.place];
  return { ...edits, changed };
}

export function setIncluded(edits: RowEdits, row: RosterRow, yes: boolean): RowEdits {
  const included = { ...edits.included, [row.place]: yes };
  if (yes === row.included && row.place > 0) delete included[row.place];
  return { ...edits, included };
}

/** Takes a row away, or keeps it after all. A new row is simply gone. */
export function toggleRemoved(edits: RowEdits, place: number): RowEdits {
  if (place > 0) {
    const removed = edits.removed.includes(place)
      ? edits.removed.filter((each) => each !== place)
      : [...edits.removed, place];
    return { ...edits, removed };
  }
  const after = { ...edits, changed: { ...edits.changed }, included: { ...edits.included }, added: edits.added - 1 };
  for (let each = place; each >= -edits.added; each--) {
    moveUp(after.changed, each);
    moveUp(after.included, each);
  }
  return after;
}

function moveUp<T>(map: Record<number, T>, place: number) {
  const next = map[place - 1];
  if (next === undefined) delete map[place];
  else map[place] = next;
}

export function addRow(edits: RowEdits): RowEdits {
  return { ...edits, added: edits.added + 1 };
}

/**
 * Cells copied from a spreadsheet, put in from a cell to the right and downwards. What does not fit to the right is left
 * out; what goes on below the last row of the page becomes new rows only on the last page.
 */
export function pasteCells(
  edits: RowEdits,
  page: RosterRow[],
  columns: string[],
  from: { place: number; column: string },
  text: string,
  lastPage: boolean,
): RowEdits {
  const rows = withEdits(page, edits);
  const first = rows.findIndex((row) => row.place === from.place);
  const left = columns.indexOf(from.column);
  const lines = text.replace(/\r\n?/g, "\n").replace(/\n$/, "").split("\n");
  let after = edits;
  lines.forEach((line, down) => {
    let row = originalOf(page, rows[first + down]?.place);
    if (!row) {
      if (!lastPage) return;
      after = addRow(after);
      row = emptyRow(-after.added);
    }
    line.split("\t").forEach((cell, across) => {
      const column = columns[left + across];
      if (row && column) after = setCell(after, row, column, cell.trim());
    });
  });
  return after;
}

export function isEdited(edits: RowEdits): boolean {
  return edits.added > 0 || edits.removed.length > 0 || places(edits).length > 0;
}

/** What would be saved, in words. */
export function editWords(edits: RowEdits): string {
  const changed = places(edits).filter((place) => !edits.removed.includes(place)).length;
  return [
    changed > 0 && `${changed} changed`,
    edits.added > 0 && `${edits.added} new`,
    edits.removed.length > 0 && `${edits.removed.length} to go`,
  ]
    .filter(Boolean)
    .join(", ");
}

/** All edits as one change. */
export function asChanges(edits: RowEdits): RowChanges {
  return {
    changed: places(edits)
      .filter((place) => !edits.removed.includes(place))
      .map((place) => ({ place, values: edits.changed[place] ?? {}, included: edits.included[place] })),
    added: newPlaces(edits).map((place) => {
      const { values, included } = newRow(place, edits);
      return { values, included };
    }),
    removed: edits.removed,
  };
}

function isChanged(edits: RowEdits, place: number): boolean {
  return edits.changed[place] !== undefined || edits.included[place] !== undefined;
}

function places(edits: RowEdits): number[] {
  return [...new Set([...Object.keys(edits.changed), ...Object.keys(edits.included)])]
    .map(Number)
    .filter((place) => place > 0)
    .sort((a, b) => a - b);
}

function newPlaces(edits: RowEdits): number[] {
  return Array.from({ length: edits.added }, (_, i) => -1 - i);
}

function valuesOf(row: RosterRow, edits: RowEdits): Record<string, string> {
  return { ...row.values, ...edits.changed[row.place] };
}

function newRow(place: number, edits: RowEdits): GridRow {
  const row = emptyRow(place);
  return { ...row, values: valuesOf(row, edits), included: edits.included[place] ?? true, fate: "new" };
}

function originalOf(page: RosterRow[], place?: number): RosterRow | undefined {
  if (place === undefined) return undefined;
  return place < 0 ? emptyRow(place) : page.find((row) => row.place === place);
}

/** A row that nobody has filled in yet. */
export function emptyRow(place: number): RosterRow {
  return { place, values: {}, included: true };
}
