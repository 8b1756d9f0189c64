import { describe, expect, it } from "vitest";
import { best, fitness, runNumber } from "./hits";

describe("What is found", () => {
  it("is the better the nearer it begins with what was typed", () => {
    const all = ["count-boats", "boats", "boat-count", "lifeboats", "harbour"];
    const names = best(
      all,
      ["boat"],
      (name) => name,
      () => "",
    );
    expect(names[0]).toBe("boat-count");
    expect(names).not.toContain("harbour");
    expect(names.at(-1)).toBe("lifeboats");
    expect(fitness("boats", ["boats"])).toBeGreaterThan(fitness("boats-out", ["boats"]));
  });

  it("holds all words, in the name or in what is said of it; names go first", () => {
    const things = [
      { name: "sweep", about: "counts boats at night" },
      { name: "boats-night", about: "" },
    ];
    const found = best(
      things,
      ["boats", "night"],
      (each) => each.name,
      (each) => each.about,
    );
    expect(found.map((each) => each.name)).toEqual(["boats-night", "sweep"]);
    expect(
      best(
        things,
        ["(.*"],
        (each) => each.name,
        (each) => each.about,
      ),
    ).toEqual([]);
  });

  it("is a run by its number only where the text is a number", () => {
    expect(runNumber("412")).toBe("412");
    expect(runNumber(" #412 ")).toBe("412");
    expect(runNumber("run 412")).toBe("412");
    for (const none of ["412a", "2026-11-23", "", "4 1 2"]) expect(runNumber(none)).toBeUndefined();
  });
});
