import { describe, expect, it } from "vitest";
import { flowAt } from "./yamlFlow";

/** Where the bar stands in a text. */
function at(text: string) {
  const lines = text.split("\n");
  const line = lines.findIndex((each) => each.includes("|"));
  const column = lines[line].indexOf("|");
  lines[line] = lines[line].replace("|", "");
  return flowAt(lines, line, column);
}

describe("Within braces", () => {
  it.each([
    ["task: t\nschedules: [ { name: nightly, wh| } ]", "task.schedules", "name", undefined, "wh"],
    ["task: t\nschedules: [ { na|, when: x, zone: UTC } ]", "task.schedules", "when,zone", undefined, "na"],
    ["task: t\nparameters: { day: { type: da| } }", "task.parameters.day", "type", "type", "da"],
    ["task: t\nparameters:\n  day: { type: date, |", "task.parameters.day", "type", undefined, ""],
    ["chain: c\nsteps:\n  - job: a\n  - { job: b, aft|", "chain.steps", "job", undefined, "aft"],
    ["task: t\ndoes: { checks: [ { name: a, file: /x },\n    { fi| } ] }", "task.does.checks", "", undefined, "fi"],
    ['task: t\nabout: "{ [ ,"\ndoes: { command: [ "a: {", b ], i|', "task.does", "command", undefined, "i"],
    ["task: t\ndoes: { shell: 'it # is', i| }", "task.does", "shell", undefined, "i"],
    ["task: a\ndoes: { x: 1\n---\ncalendar: c\nopen: [ { on: |", "calendar.open", "on", "on", ""],
    ["task: t\ndoes: { x: [ 1 ], # a comment, with { \n  y| }", "task.does", "x", undefined, "y"],
  ])("%s", (text, path, beside, key, typed) => {
    expect(at(text)).toEqual({
      path: path.split("."),
      beside: beside === "" ? [] : beside.split(","),
      key,
      typed,
    });
  });

  it.each([
    "task: t\nab|",
    "task: t\ndoes: { x: 1 }\nab|",
    "task: t\ndoes: { x: 1\nab|",
    "task: t\nabout: what is {| this",
    "task: t\ndoes: { command: [ ec| ] }",
    'task: t\ndoes: { shell: "a, | " }',
  ])("not: %s", (text) => {
    expect(at(text)).toBeUndefined();
  });
});
