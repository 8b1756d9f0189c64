import { describe, expect, it } from "vitest";
import { NEW_TASK, readDraft, writeField, writeKind, writeWork } from "./draft";
import { nameOf, WORK } from "./work";

const SETTLE = `# settles the day
task: settle-tickets
team: revenue
does:
  command: [ ./settle.sh, --day, "\${day}" ] # no shell
  in: /srv/settle
schedules:
  - { name: nightly, when: every day at 02:30, zone: Europe/Oslo }
`;

function field(kind: string, name: string) {
  const found = WORK[kind].fields.find((each) => nameOf(each) === name);
  if (!found) throw new Error(`no field ${name}`);
  return found;
}

describe("A definition in the form", () => {
  it("shows what the text says", () => {
    expect(readDraft(SETTLE)).toMatchObject({
      task: "settle-tickets",
      kind: "command",
      work: { command: ["./settle.sh", "--day", "$" + "{day}"].join("\n"), in: "/srv/settle" },
      when: "every day at 02:30",
      zone: "Europe/Oslo",
      mail: "",
    });
  });

  it("is not shown for a chain, or for what is no YAML", () => {
    expect(readDraft("chain: c\nteam: t\n")).toBeUndefined();
    expect(readDraft("task: [ a")).toBeUndefined();
  });

  it("changes one field and leaves comments and the rest alone", () => {
    const changed = writeWork(SETTLE, field("command", "in"), "/srv/other");
    expect(changed).toContain("# settles the day");
    expect(changed).toContain("in: /srv/other");
    expect(changed).toContain("every day at 02:30");
  });

  it("makes and takes away what hangs together", () => {
    const mailed = writeField(SETTLE, "mail", "a@example.org\nb@example.org");
    expect(mailed).toContain("failed: [ a@example.org, b@example.org ]");
    expect(writeField(mailed, "mail", "")).not.toContain("notify");
    expect(writeField(SETTLE, "when", "")).not.toContain("schedules");
    const scheduled = writeField(NEW_TASK, "when", "every hour");
    expect(readDraft(scheduled)).toMatchObject({ when: "every hour" });
    expect(scheduled).toContain("name: first");
  });

  it("says what counts as a failure, and nothing where that is usual", () => {
    const ruled = writeField(writeField(SETTLE, "warned", "3\n4"), "failedBy", "^ERROR\nlate");
    expect(ruled).toContain("exit-codes:");
    expect(ruled).toContain("warned: [ 3, 4 ]");
    expect(readDraft(ruled)).toMatchObject({ warned: "3\n4", failedBy: "^ERROR\nlate", errorStream: "" });
    const usual = writeField(writeField(ruled, "warned", ""), "failedBy", "");
    expect(usual).not.toContain("exit-codes");
    expect(usual).not.toContain("outcome");
  });

  it("can do another kind of work, with the fields of that kind", () => {
    const sql = writeKind(SETTLE, "sql");
    expect(readDraft(sql)).toMatchObject({ kind: "sql", work: { sql: "select 1", "to-file": "" } });
    expect(sql).not.toContain("command:");
    const filed = writeWork(sql, field("sql", "to-file"), "sales.pdf");
    expect(filed).toContain("to-file: sales.pdf");
    expect(writeWork(filed, field("sql", "to-file"), "")).not.toContain("to-file");
  });

  it("takes maps and lists a line each, and takes them away again", () => {
    const set = writeWork(SETTLE, field("command", "environment"), "LANG: C.UTF-8\nDEPTH: 3\n");
    expect(set).toContain("environment: { LANG: C.UTF-8, DEPTH: 3 }");
    expect(readDraft(set)?.work.environment).toBe("LANG: C.UTF-8\nDEPTH: 3");
    expect(writeWork(set, field("command", "environment"), " \n")).toBe(SETTLE);
    const request = writeWork(writeKind(SETTLE, "request"), field("request", "expect"), "200\n300-302");
    expect(request).toContain("expect: [ 200, 300-302 ]");
  });

  it("keeps several statements apart, and a table with what belongs to it together", () => {
    const several = "sql:\n    - delete from day\n    - |-\n      insert into day\n      select 1\n";
    const sql = SETTLE.replace(/command:.*\n.*\n/, several);
    const shown = "delete from day\n;\ninsert into day\nselect 1";
    expect(readDraft(sql)?.work.sql).toBe(shown);
    expect(readDraft(writeWork(sql, field("sql", "sql"), `${shown}\n;\nselect 2`))?.work.sql).toBe(
      `${shown}\n;\nselect 2`,
    );
    expect(writeWork(sql, field("sql", "sql"), "select 2")).toContain("sql: select 2");
    const table = writeWork(sql, field("sql", "to-table.table"), "sale");
    expect(table).toContain("to-table: { table: sale }");
    expect(writeWork(table, field("sql", "to-table.table"), "")).not.toContain("to-table");
  });

  it("takes lanes by name, or with their places, and what is said of overlap and tries as it is meant", () => {
    const named = writeField(SETTLE, "lanes", "planning\nyard");
    expect(named).toContain("lanes: [ planning, yard ]");
    const wide = writeField(named, "lanes", "planning: 2\nyard");
    expect(wide).toContain("lanes: { planning: 2, yard: 1 }");
    expect(readDraft(wide)?.lanes).toBe("planning: 2\nyard: 1");
    expect(writeField(wide, "lanes", "")).toBe(SETTLE);
    expect(writeField(SETTLE, "whileRunning", "4")).toContain("while-running: 4");
    expect(writeField(SETTLE, "whileRunning", "skip")).toContain("while-running: skip");
    const tried = writeField(SETTLE, "retryTries", "3");
    expect(tried).toMatch(/retry:\s+(\{ )?tries: 3/);
    expect(writeField(tried, "retryTries", "")).toBe(SETTLE);
    expect(readDraft(writeField(SETTLE, "stopAt", "05:30"))?.stopAt).toBe("05:30");
  });
});
