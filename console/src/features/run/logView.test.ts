import { describe, expect, it } from "vitest";
import { ERROR, lineOf, nextOf, plain, stretches } from "./logView";

describe("A line of a log", () => {
  it("is shown in its colours, and searched without them", () => {
    const line = "\u001b[1;31mfailed\u001b[0m to reach \u001b[36mskarholm\u001b[0m";
    expect(plain(line)).toBe("failed to reach skarholm");
    const parts = stretches(line);
    expect(parts.map((part) => part.text).join("")).toBe("failed to reach skarholm");
    expect(parts[0]).toMatchObject({ text: "failed", colour: "red", bold: true });
    expect(parts.at(-1)).toMatchObject({ text: "skarholm", colour: "cyan" });
  });

  it("loses what moves a cursor, and nothing that looks like HTML", () => {
    expect(plain("\u001b[2K\u001b[1Gdone")).toBe("done");
    expect(stretches("<b>&lt;</b>")).toEqual([{ text: "<b>&lt;</b>", bold: false }]);
    expect(stretches("\u001b[32m<i>\u001b[0m").map((part) => part.text)).toEqual(["<i>"]);
  });

  it("looks like an error by its words, not by parts of them", () => {
    for (const bad of ["ERROR 5", "it failed", "access denied", "No such file: missing"]) expect(bad).toMatch(ERROR);
    for (const fine of ["terrors", "unfailing", "refusedly"]) expect(fine).not.toMatch(ERROR);
  });

  it("has an address of its own", () => {
    expect(lineOf("#line-120")).toBe(119);
    for (const none of ["", "#log", "#line-x", "#line-1234567890"]) expect(lineOf(none)).toBeUndefined();
  });

  it("is followed and preceded by the hits around it, round the ends", () => {
    const hits = [3, 8, 20];
    expect(nextOf(hits, 3, 1)).toBe(8);
    expect(nextOf(hits, 20, 1)).toBe(3);
    expect(nextOf(hits, 3, -1)).toBe(20);
    expect(nextOf(hits, 10, -1)).toBe(8);
    expect(nextOf([], 1, 1)).toBeUndefined();
  });
});
