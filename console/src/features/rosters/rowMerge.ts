import type { RosterRow } from "../../api/types";
import { NO_EDITS, type RowEdits } from "./rowEdits";

/** A row as far as somebody can edit it. */
export type Written = Pick<RosterRow, "values" | "included">;

/** Rows by their places; nothing at a place where no row is any more. */
export type Rows = Record<number, Written | undefined>;

/** The places of rows that are written down and that edits touch. */
export function touched(edits: RowEdits): number[] {
  const all = [...Object.keys(edits.changed), ...Object.keys(edits.included), ...edits.removed];
  return [...new Set(all.map(Number))].filter((place) => place > 0).sort((a, b) => a - b);
}

/** The rows that edits were made on: those known so far, and those of a page that edits touch since. */
export function withBase(base: Rows, edits: RowEdits, page: RosterRow[]): Rows {
  const after: Rows = {};
  for (const place of touched(edits)) {
    const row = page.find((each) => each.place === place);
    after[place] = base[place] ?? (row && { values: row.values, included: row.included });
  }
  return after;
}

/** A row that two people changed: as it was, as a colleague saved it, and as it is here. */
export type Both = { place: number; before: Written; theirs?: Written; mine?: Written };

/** The rows that a colleague changed or removed among those that edits touch. */
export function inBoth(edits: RowEdits, base: Rows, theirs: Rows): Both[] {
  return touched(edits).flatMap((place) => {
    const before = base[place];
    if (!before || same(before, theirs[place])) return [];
    return [{ place, before, theirs: theirs[place], mine: mineOf(edits, place, before) }];
  });
}

/** Whether both made the same of a row, so that there is nothing to choose. */
export function agree({ theirs, mine }: Both): boolean {
  return mine ? same(mine, theirs) : theirs === undefined;
}

/** My edits on the rows as a colleague left them: both people's changes stand, and where both changed a cell, mine. */
export function mineOnTheirs(edits: RowEdits, base: Rows, theirs: Rows): RowEdits {
  return rebased(edits, base, theirs, (_, mine) => mine);
}

/** The same, but rows that both changed are wholly as they are here. */
export function mineAlone(edits: RowEdits, base: Rows, theirs: Rows): RowEdits {
  return rebased(edits, base, theirs, (before, mine) => ({
    values: { ...before.values, ...mine.values },
    included: mine.included ?? before.included,
  }));
}

type Mine = { values: Record<string, string>; included?: boolean };

function rebased(edits: RowEdits, base: Rows, theirs: Rows, meant: (before: Written, mine: Mine) => Mine): RowEdits {
  const after: RowEdits = { ...edits, changed: { ...edits.changed }, included: { ...edits.included } };
  for (const { place, before, theirs: now } of inBoth(edits, base, theirs)) {
    delete after.changed[place];
    delete after.included[place];
    if (edits.removed.includes(place)) {
      if (!now) after.removed = after.removed.filter((each) => each !== place);
      continue;
    }
    const mine = meant(before, { values: edits.changed[place] ?? {}, included: edits.included[place] });
    if (!now) {
      // it is not there any more, and is wanted: it comes back as a new row
      after.added += 1;
      after.changed[-after.added] = { ...before.values, ...mine.values };
      after.included[-after.added] = mine.included ?? before.included;
      continue;
    }
    const different = Object.entries(mine.values).filter(([column, value]) => value !== (now.values[column] ?? ""));
    if (different.length > 0) after.changed[place] = Object.fromEntries(different);
    if (mine.included !== undefined && mine.included !== now.included) after.included[place] = mine.included;
  }
  return after;
}

function mineOf(edits: RowEdits, place: number, before: Written): Written | undefined {
  if (edits.removed.includes(place)) return undefined;
  return {
    values: { ...before.values, ...edits.changed[place] },
    included: edits.included[place] ?? before.included,
  };
}

function same(one: Written, other: Written | undefined): boolean {
  if (!other || one.included !== other.included) return false;
  const columns = new Set([...Object.keys(one.values), ...Object.keys(other.values)]);
  return [...columns].every((column) => (one.values[column] ?? "") === (other.values[column] ?? ""));
}

/** What is kept on the device: edits and what they were made on. */
export type KeptRows = { edits: RowEdits; base: Rows };

/** Reads what was kept; an older console kept the edits alone. */
export function readKept(text: string): KeptRows {
  const kept = JSON.parse(text) as Partial<KeptRows> & Partial<RowEdits>;
  return kept.edits ? { edits: kept.edits, base: kept.base ?? {} } : { edits: { ...NO_EDITS, ...kept }, base: {} };
}
