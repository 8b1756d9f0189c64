import { describe, expect, it } from "vitest";
import { NEW_TASK, readDraft, WORK, writeField, writeKind, writeWork } from "./draft";

const SETTLE = `# settles the day
task: settle-tickets
team: revenue
does:
  command: [ ./settle.sh, --day, "\${day}" ] # no shell
  in: /srv/settle
schedules:
  - { name: nightly, when: every day at 02:30, zone: Europe/Oslo }
`;

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
    const changed = writeWork(SETTLE, WORK.command.fields[1], "/srv/other");
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
    const filed = writeWork(sql, WORK.sql.fields[1], "sales.pdf");
    expect(filed).toContain("to-file: sales.pdf");
    expect(writeWork(filed, WORK.sql.fields[1], "")).not.toContain("to-file");
  });
});
