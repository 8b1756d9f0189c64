import { expect, test } from "vitest";
import { asChanges, NO_EDITS, type RowEdits } from "./rowEdits";
import { agree, inBoth, mineAlone, mineOnTheirs, type Rows, readKept, touched, type Written } from "./rowMerge";

const COLUMNS = ["route", "share"];

/** A generator of numbers below some other, the same in each run. */
function numbers(seed: number) {
  let state = seed;
  return (below: number) => {
    state = (state * 1_103_515_245 + 12_345) % 2_147_483_648;
    return Math.floor(state / 65_536) % below;
  };
}

type Next = (below: number) => number;

const some = (next: Next): Written => ({
  values: { route: "abc"[next(3)], share: "xyz"[next(3)] },
  included: next(4) > 0,
});

/** Edits as the grid makes them: only what is different from the row. */
function edit(next: Next, rows: Rows): RowEdits {
  const edits: RowEdits = { changed: {}, included: {}, removed: [], added: next(2) };
  for (let each = 1; each <= edits.added; each++) edits.changed[-each] = { route: "new" };
  for (const [key, row] of Object.entries(rows)) {
    const place = Number(key);
    if (!row || next(2) === 0) continue;
    if (next(5) === 0) {
      edits.removed.push(place);
      continue;
    }
    const wanted = some(next);
    const cells = COLUMNS.filter((column) => next(2) === 0 && wanted.values[column] !== row.values[column]);
    if (cells.length > 0) edits.changed[place] = Object.fromEntries(cells.map((each) => [each, wanted.values[each]]));
    if (wanted.included !== row.included) edits.included[place] = wanted.included;
  }
  return edits;
}

/** What the service makes of edits. */
function saved(rows: Rows, edits: RowEdits): { rows: Rows; added: Written[] } {
  const { changed, removed, added } = asChanges(edits);
  const after: Rows = { ...rows };
  for (const each of changed) {
    const row = after[each.place];
    if (!row) throw new Error(`there is no row ${each.place}`);
    after[each.place] = { values: { ...row.values, ...each.values }, included: each.included ?? row.included };
  }
  for (const place of removed) {
    if (!after[place]) throw new Error(`there is no row ${place}`);
    delete after[place];
  }
  return { rows: after, added };
}

test("on top of theirs, each cell is as whoever changed it left it, and mine where both did", () => {
  for (let seed = 1; seed <= 3_000; seed++) {
    const next = numbers(seed);
    const base: Rows = Object.fromEntries([1, 2, 3, 4].map((place) => [place, some(next)]));
    const mine = edit(next, base);
    const theirs = saved(base, edit(next, base)).rows;
    const top = saved(theirs, mineOnTheirs(mine, base, theirs));
    const alone = saved(theirs, mineAlone(mine, base, theirs));
    let back = 0;
    for (const place of [1, 2, 3, 4]) {
      const before = base[place] as Written;
      const now = theirs[place];
      const isMine = touched(mine).includes(place);
      if (mine.removed.includes(place) || (!now && !isMine)) {
        expect(top.rows[place]).toBeUndefined();
        expect(alone.rows[place]).toBeUndefined();
        continue;
      }
      const wanted = { ...before.values, ...mine.changed[place] };
      const taken = mine.included[place] ?? before.included;
      if (!now) {
        back++;
        expect(top.added).toContainEqual({ values: wanted, included: taken });
        continue;
      }
      expect(top.rows[place]).toEqual({
        values: Object.fromEntries(COLUMNS.map((each) => [each, mine.changed[place]?.[each] ?? now.values[each]])),
        included: mine.included[place] ?? now.included,
      });
      expect(alone.rows[place]).toEqual(isMine ? { values: wanted, included: taken } : now);
    }
    expect(top.added).toHaveLength(mine.added + back);
  }
});

test("only rows that both touched are asked about", () => {
  const base: Rows = {
    1: { values: { route: "skarholm" }, included: true },
    2: { values: { route: "sound" }, included: true },
  };
  const edits: RowEdits = { ...NO_EDITS, changed: { 1: { route: "outer" } }, removed: [2] };
  expect(inBoth(edits, base, base)).toEqual([]);
  const sameEnd = inBoth(edits, base, { 1: { values: { route: "outer" }, included: true } });
  expect(sameEnd.map(agree)).toEqual([true, true]);
  expect(inBoth(edits, base, { 1: { values: { route: "far" }, included: true } })).toEqual([
    {
      place: 1,
      before: base[1],
      theirs: { values: { route: "far" }, included: true },
      mine: { values: { route: "outer" }, included: true },
    },
    { place: 2, before: base[2], theirs: undefined, mine: undefined },
  ]);
});

test("what an older console kept is still read", () => {
  const edits = { ...NO_EDITS, removed: [3] };
  expect(readKept(JSON.stringify(edits))).toEqual({ edits, base: {} });
  expect(readKept(JSON.stringify({ edits, base: { 3: { values: {}, included: true } } })).base[3]).toBeDefined();
});
