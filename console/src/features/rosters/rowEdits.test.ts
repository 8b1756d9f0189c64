import { expect, test } from "vitest";
import type { RosterRow } from "../../api/types";
import {
  addRow,
  asChanges,
  editWords,
  emptyRow,
  isEdited,
  NO_EDITS,
  pasteCells,
  setCell,
  setIncluded,
  toggleRemoved,
  withEdits,
} from "./rowEdits";

const page: RosterRow[] = [
  { place: 1, values: { route: "skarholm", share: "40" }, included: true, lastState: "failed", lastRun: 7 },
  { place: 3, values: { route: "sound", share: "60" }, included: false },
];
const columns = ["route", "share"];

test("a cell that gets its old value back is no edit any more", () => {
  const edits = setCell(NO_EDITS, page[0], "share", "45");
  expect(withEdits(page, edits)[0]).toMatchObject({ values: { route: "skarholm", share: "45" }, fate: "changed" });
  expect(isEdited(setCell(edits, page[0], "share", "40"))).toBe(false);
  expect(isEdited(setIncluded(setIncluded(NO_EDITS, page[1], true), page[1], false))).toBe(false);
});

test("all edits are saved as one change, and a row that goes is not changed as well", () => {
  let edits = setCell(NO_EDITS, page[0], "share", "45");
  edits = setIncluded(edits, page[1], true);
  edits = setCell(addRow(edits), emptyRow(-1), "route", "outer-isles");
  expect(editWords(edits)).toBe("2 changed, 1 new");
  expect(asChanges(edits)).toEqual({
    changed: [
      { place: 1, values: { share: "45" }, included: undefined },
      { place: 3, values: {}, included: true },
    ],
    added: [{ values: { route: "outer-isles" }, included: true }],
    removed: [],
  });
  const gone = toggleRemoved(edits, 1);
  expect(editWords(gone)).toBe("1 changed, 1 new, 1 to go");
  expect(asChanges(gone)).toMatchObject({ changed: [{ place: 3 }], removed: [1] });
  expect(toggleRemoved(gone, 1)).toEqual(edits);
});

test("a new row that goes leaves those after it as they are", () => {
  let edits = addRow(addRow(addRow(NO_EDITS)));
  for (const place of [-1, -2, -3]) edits = setCell(edits, emptyRow(place), "route", `r${-place}`);
  const rows = withEdits([], toggleRemoved(edits, -2));
  expect(rows.map((row) => row.values.route)).toEqual(["r1", "r3"]);
});

test("cells from a spreadsheet go to the right and down; what is below the last row becomes new rows", () => {
  const edits = pasteCells(NO_EDITS, page, columns, { place: 3, column: "route" }, "a\t1\textra\r\nb\t2\r\n", true);
  expect(asChanges(edits)).toEqual({
    changed: [{ place: 3, values: { route: "a", share: "1" }, included: undefined }],
    added: [{ values: { route: "b", share: "2" }, included: true }],
    removed: [],
  });
  const cut = pasteCells(NO_EDITS, page, columns, { place: 3, column: "share" }, "1\n2", false);
  expect(cut).toMatchObject({ changed: { 3: { share: "1" } }, added: 0 });
});
