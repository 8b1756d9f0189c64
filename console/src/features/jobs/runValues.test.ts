import { describe, expect, it } from "vitest";
import { comparable, numberOf } from "./runValues";

describe("values over runs", () => {
  const runs: { results?: Record<string, string> }[] = [
    { results: { tickets: "339", note: "fine", crowns: "-1.5e3", once: "1" } },
    { results: { tickets: "many", note: "12", crowns: "0.25" } },
    { results: { tickets: "7" } },
    {},
  ];

  it("are those that are numbers in at least two of them", () => {
    expect(comparable(runs)).toEqual(["tickets", "crowns"]);
    expect(comparable([])).toEqual([]);
  });

  it("are read as numbers, and left out where they are none", () => {
    expect(runs.map((run) => numberOf(run, "tickets"))).toEqual([339, undefined, 7, undefined]);
    expect(numberOf(runs[0], "crowns")).toBe(-1500);
    for (const text of ["", " 1", "1,5", "0x10", "Infinity", "1e999", "NaN"]) {
      expect(numberOf({ results: { it: text } }, "it")).toBeUndefined();
    }
  });
});
