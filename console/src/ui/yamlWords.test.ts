import { describe, expect, it } from "vitest";
import { besideAt, pathAt, type Vocabulary, wordsAt } from "./yamlWords";

const TEXT = `calendar: open
team: revenue
---
task: count
parameters:
  day:
    type: date
  route:
    type: choice
schedules:
  - name: nightly
    when: every day
    calendar: open
does:
  command: [ ./count.sh ]
---
chain: night
steps:
  - job: count
  - job: count
    after: count
`.split("\n");

const lineOf = (text: string, nth = 0) =>
  TEXT.map((line, i) => (line.includes(text) ? i : -1)).filter((i) => i >= 0)[nth];

describe("Where one is in a definition", () => {
  it.each([
    ["team: revenue", 0, 0, "calendar"],
    ["parameters:", 0, 0, "task"],
    ["type: choice", 0, 4, "task.parameters.route"],
    ["when: every day", 0, 4, "task.schedules"],
    ["calendar: open", 1, 4, "task.schedules"],
    ["command:", 0, 2, "task.does"],
    ["after: count", 0, 4, "chain.steps"],
  ])("is known by the keys above %s", (text, nth, column, path) => {
    expect(pathAt(TEXT, lineOf(text, nth), column).join(".")).toBe(path);
  });

  it("says which words may stand there; names that people give are a star", () => {
    const words: Vocabulary = {
      "": [{ word: "task", help: "" }],
      "task.parameters.*": [{ word: "type", help: "", values: ["date"] }],
    };
    expect(wordsAt(["task", "parameters", "route"], words)[0].word).toBe("type");
    expect(wordsAt([], words)[0].word).toBe("task");
    expect(wordsAt(["chain", "steps"], words)).toEqual([]);
    expect(wordsAt(["task"], undefined)).toEqual([]);
  });

  it("says what goes with a key that stands beside, in the same item of a list", () => {
    const lines = "task: t\ngates:\n  - file: /in/a\n    \n  - load: 1.5\n    during: 5 min".split("\n");
    const words: Vocabulary = {
      "task.gates": [{ word: "file", help: "" }],
      "task.gates+file": [{ word: "settled", help: "" }],
    };
    expect(besideAt(lines, 3, 4)).toEqual(["file"]);
    expect(besideAt(lines, 4, 4)).toEqual(["during"]);
    expect(besideAt(lines, 5, 4)).toEqual(["load"]);
    expect(wordsAt(["task", "gates"], words, ["file"])[0].word).toBe("settled");
    expect(wordsAt(["task", "gates"], words, ["load"])[0].word).toBe("file");
  });
});
