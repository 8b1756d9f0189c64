import { describe, expect, it } from "vitest";
import {
  addPart,
  CHECKS,
  GATES,
  keyOf,
  PARAMETERS,
  type PartKind,
  readParts,
  removePart,
  renamePart,
  triggers,
  writePart,
} from "./parts";

const SETTLE = `task: settle # nightly
parameters:
  day: { type: date, default: "\${planned.date}" } # the day
  route:
    type: choice
    of: [ skarholm, sound ]
does:
  checks:
    - { name: sales are in, sql: select 1, at-least: 1 }
    - name: kiosk sells
      request: http://kiosk.example.org/
`;
const field = (kind: typeof CHECKS, label: string) => {
  const found = kind.fields.find((each) => each.label === label);
  if (!found) throw new Error(label);
  return found;
};

describe("The parts of a definition", () => {
  it("are read from maps and lists, however they are written", () => {
    expect(readParts(SETTLE, PARAMETERS)).toEqual([
      { name: "day", type: "date", default: "$" + "{planned.date}" },
      { name: "route", type: "choice", of: "skarholm, sound" },
    ]);
    expect(readParts(SETTLE, CHECKS)[0]).toEqual({ name: "sales are in", sql: "select 1", "at-least": "1" });
    expect(readParts("task: a\n", CHECKS)).toEqual([]);
  });

  it("change in one place, and comments and the rest stay", () => {
    const changed = writePart(SETTLE, PARAMETERS, 1, field(PARAMETERS, "of"), "of", "sound, outer-isles");
    expect(changed).toContain("of: [ sound, outer-isles ]");
    expect(changed).toContain("# the day");
    const bounded = writePart(changed, CHECKS, 0, field(CHECKS, "must be"), "at-most", "20");
    expect(bounded).toContain("at-most: 20");
    expect(bounded).not.toContain("at-least");
    expect(writePart(SETTLE, PARAMETERS, 0, field(PARAMETERS, "default"), "default", "")).not.toContain("default");
  });

  it("come under a free name, get another one, and go", () => {
    const more = addPart(addPart(SETTLE, PARAMETERS), PARAMETERS);
    expect(readParts(more, PARAMETERS).map((part) => part.name)).toEqual(["day", "route", "value", "value-2"]);
    const renamed = renamePart(more, PARAMETERS, 2, "cents");
    expect(readParts(renamed, PARAMETERS)[2].name).toBe("cents");
    expect(renamePart(more, PARAMETERS, 2, "day")).toBe(more);
    expect(readParts(removePart(more, PARAMETERS, 0), PARAMETERS)).toHaveLength(3);
    const none = removePart(removePart(SETTLE, PARAMETERS, 0), PARAMETERS, 0);
    expect(none).not.toContain("parameters");
    expect(readParts(addPart(none, PARAMETERS), PARAMETERS)).toEqual([{ name: "value", type: "text" }]);
    expect(readParts(removePart(addPart(SETTLE, CHECKS), CHECKS, 0), CHECKS).map((part) => part.name)).toEqual([
      "kiosk sells",
      "it answers",
    ]);
  });

  it("know which of several keys they use", () => {
    const looks = field(CHECKS, "looks at");
    expect(keyOf({ name: "a", request: "x" }, looks)).toBe("request");
    expect(keyOf({ name: "a" }, looks)).toBe("sql");
  });

  it("are gates and triggers too, each with the fields of its kind", () => {
    const gated = addPart(SETTLE, GATES);
    expect(gated).toContain("file: /srv/list.csv");
    const shown = (kind: PartKind, index: number, text: string) => {
      const part = readParts(text, kind)[index];
      return kind.fields.filter(({ only }) => !only || only(part)).map(({ label }) => label);
    };
    expect(shown(GATES, 0, gated)).toEqual(["waits for", "unchanged for", "host"]);
    const other = writePart(gated, GATES, 0, GATES.fields[0], "job", "settle");
    expect(readParts(other, GATES)).toEqual([{ settled: "1 min", job: "settle" }]);
    expect(shown(GATES, 0, other)).toEqual(["waits for", "ended", "since"]);
    const kind = triggers(["run.ended", "file.arrived"]);
    const triggered = writePart(addPart(SETTLE, kind), kind, 0, kind.fields[1], "on", "file.arrived");
    expect(shown(kind, 0, triggered)).toEqual(["name", "on", "folder", "files", "is whole when", "where", "delay"]);
    const matching = writePart(triggered, kind, 0, field(kind, "files"), "matching", "*.csv, *.txt");
    expect(readParts(matching, kind)[0].matching).toBe("*.csv, *.txt");
  });
});
