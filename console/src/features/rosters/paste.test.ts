import { expect, test } from "vitest";
import { pastedAsCsv } from "./paste";

test("a table pasted from a spreadsheet becomes CSV, cells with commas and quotes quoted", () => {
  expect(pastedAsCsv('route\tnote\nsound\ta, "b"\n\n skarholm \t\n')).toBe(
    'route,note\r\nsound,"a, ""b"""\r\nskarholm,',
  );
});

test("CSV stays as it is", () => {
  expect(pastedAsCsv("route,note\nsound,x\n")).toBe("route,note\nsound,x\n");
});
