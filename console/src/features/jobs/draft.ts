import { type Document, isMap, parseDocument } from "yaml";

/** What a task can do, and the fields that each kind of work has under {@code does}. */
export const WORK: Record<string, { label: string; fields: WorkField[] }> = {
  command: {
    label: "a command, here or on another host",
    fields: [
      {
        key: "command",
        label: "Command",
        help: "the program and its arguments, one a line; no shell reads them",
        lines: true,
      },
      { key: "in", label: "Folder", help: "where the program works, as a full path" },
    ],
  },
  shell: {
    label: "a text for a shell",
    fields: [
      // biome-ignore lint/suspicious/noTemplateCurlyInString: people type it just so
      { key: "shell", label: "Text", help: "/bin/sh reads it, and every ${name} as it stands", multiline: true },
      { key: "in", label: "Folder", help: "where it works, as a full path" },
    ],
  },
  request: {
    label: "an HTTP request",
    fields: [
      // biome-ignore lint/suspicious/noTemplateCurlyInString: people type it just so
      { key: "request", label: "Address", help: "http:// or https://; values as ${name}" },
      { key: "method", label: "Method", help: "GET unless it says POST, PUT, PATCH, DELETE or HEAD" },
      { key: "body", label: "Body", help: "what is sent; empty for nothing", multiline: true },
      { key: "save-to", label: "Keep the answer as", help: "the name of an output; empty to only look at it" },
    ],
  },
  sql: {
    label: "SQL in a database",
    fields: [
      // biome-ignore lint/suspicious/noTemplateCurlyInString: people type it just so
      { key: "sql", label: "Statement", help: "values as ${name} are bound, never read as SQL", multiline: true },
      { key: "to-file", label: "Rows go to", help: "an output that ends in .csv, .json, .xlsx, .html or .pdf" },
    ],
  },
  checks: { label: "checks", fields: [] },
  files: {
    label: "work on files",
    fields: [
      { key: "files", label: "What is done", help: "list, delete, move, copy or compress" },
      { key: "under", label: "Folder", help: "nothing outside of it is touched" },
      { key: "matching", label: "Which files", help: "such as *.csv or old/**" },
      { key: "older-than", label: "Older than", help: "ISO 8601, such as P30D" },
      { key: "quarantine", label: "Quarantine", help: "the folder that takes deleted files" },
      { key: "to", label: "To", help: "where files are moved, copied or compressed to" },
    ],
  },
  mail: {
    label: "a mail",
    fields: [
      // biome-ignore lint/suspicious/noTemplateCurlyInString: people type it just so
      { key: "mail", label: "Subject", help: "values as ${name}" },
      { key: "to", label: "To", help: "addresses, one a line", lines: true },
      { key: "text", label: "Text", help: "what it says", multiline: true },
      {
        key: "attach",
        label: "Attach",
        help: "full paths, or STEP: OUTPUT of an earlier step, one a line",
        lines: true,
      },
    ],
  },
};

export type WorkField = { key: string; label: string; help: string; lines?: boolean; multiline?: boolean };

/** What a task of a kind begins with where there was another kind before. */
const FRESH: Record<string, unknown> = {
  command: { command: ["./program.sh"] },
  shell: { shell: "echo hello" },
  request: { request: "http://kiosk.example.org/" },
  sql: { sql: "select 1" },
  checks: { checks: [{ name: "it answers", request: "http://kiosk.example.org/" }] },
  files: { files: "list", under: "/srv" },
  mail: { mail: "Hello", to: ["somebody@example.org"], text: "" },
};

/** The parts of a task's definition that the form shows; the rest stays as it is written. */
export type Draft = {
  task: string;
  team: string;
  about: string;
  actsAs: string;
  timeLimit: string;
  mail: string;
  when: string;
  zone: string;
  succeeded: string;
  warned: string;
  failedBy: string;
  warnedBy: string;
  errorStream: string;
  testResults: string;
  /** What is done: one of the kinds of work, with its fields by their keys. */
  kind: string;
  work: Record<string, string>;
};

/** The fields of a draft that are a text of their own. */
export type DraftField = Exclude<keyof Draft, "kind" | "work">;

export const NEW_TASK = `task: 
team: 
about: 
does:
  command: [ ./program.sh ]
  in: /srv
`;

type Path = (string | number)[];

const PATHS: Record<DraftField, Path> = {
  task: ["task"],
  team: ["team"],
  about: ["about"],
  actsAs: ["acts-as"],
  timeLimit: ["time-limit"],
  mail: ["notify", "failed"],
  succeeded: ["exit-codes", "succeeded"],
  warned: ["exit-codes", "warned"],
  failedBy: ["outcome", "failed-by"],
  warnedBy: ["outcome", "warned-by"],
  errorStream: ["outcome", "error-stream"],
  testResults: ["outcome", "test-results"],
  when: ["schedules", 0, "when"],
  zone: ["schedules", 0, "zone"],
};

/** Fields whose text is a list, one a line. */
const LISTS: DraftField[] = ["mail", "succeeded", "warned", "failedBy", "warnedBy"];

function textAt(document: Document, path: Path): string {
  const found = document.getIn(path) as unknown;
  if (found === undefined || found === null) return "";
  if (typeof found === "object" && "toJSON" in found) {
    const list = (found as { toJSON: () => unknown }).toJSON();
    return Array.isArray(list) ? list.map(String).join("\n") : "";
  }
  return String(found);
}

/** What the form shows of a definition; nothing where the text is no YAML or no task. */
export function readDraft(text: string): Draft | undefined {
  const document = parseDocument(text);
  if (document.errors.length > 0 || !document.has("task")) return undefined;
  const entries = Object.entries(PATHS).map(([field, path]) => [field, textAt(document, path)]);
  const kind = Object.keys(WORK).find((each) => document.hasIn(["does", each])) ?? "";
  const fields = WORK[kind]?.fields ?? [];
  const work = Object.fromEntries(fields.map(({ key }) => [key, textAt(document, ["does", key])]));
  return { ...Object.fromEntries(entries), kind, work } as Draft;
}

/** The definition with another kind of work; what the old one said is gone, and Undo brings it back. */
export function writeKind(text: string, kind: string): string {
  const document = parseDocument(text);
  document.set("does", document.createNode(FRESH[kind]));
  return document.toString({ lineWidth: 110, flowCollectionPadding: true });
}

/** The definition with one field of its work changed. */
export function writeWork(text: string, { key, lines }: WorkField, value: string): string {
  const document = parseDocument(text);
  const path = ["does", key];
  const list = value.split("\n").filter((line) => line !== "");
  if (lines) setOrDelete(document, path, list.length > 0 ? document.createNode(list, { flow: true }) : undefined);
  else setOrDelete(document, path, value === "" && !(key in WORK) ? undefined : value);
  return document.toString({ lineWidth: 110, flowCollectionPadding: true });
}

/** The definition with one field changed; comments and everything else stay as they were. */
export function writeField(text: string, field: DraftField, value: string): string {
  const document = parseDocument(text);
  const lines = value.split("\n").filter((line) => line !== "");
  if (LISTS.includes(field)) {
    const items = PATHS[field][0] === "exit-codes" ? lines.map(Number).filter(Number.isInteger) : lines;
    setOrDelete(document, PATHS[field], items.length > 0 ? document.createNode(items, { flow: true }) : undefined);
  } else if ((field === "when" || field === "zone") && !document.hasIn(["schedules", 0])) {
    const fresh = { name: "first", when: field === "when" ? value : "", zone: field === "zone" ? value : ownZone() };
    document.set("schedules", document.createNode([fresh]));
  } else {
    setOrDelete(document, PATHS[field], value === "" && field !== "task" && field !== "team" ? undefined : value);
  }
  return document.toString({ lineWidth: 110, flowCollectionPadding: true });
}

function setOrDelete(document: Document, path: Path, value: unknown) {
  if (value === undefined) {
    document.deleteIn(path);
    const above = document.getIn(path.slice(0, -1)) as unknown;
    if (path.length === 2 && isMap(above) && above.items.length === 0) document.deleteIn(path.slice(0, -1));
    if (path[2] === "when") document.delete("schedules");
  } else {
    document.setIn(path, value);
  }
}

const ownZone = () => Intl.DateTimeFormat().resolvedOptions().timeZone;
