/** How a field's value stands in a definition: a text, a list with one a line, a map with one a line, or statements. */
export type Shape = "text" | "lines" | "map" | "statements";

/** A field of a kind of work; its path leads from {@code does} to where it stands. */
export type WorkField = {
  path: string[];
  label: string;
  help: string;
  shape?: Shape;
  multiline?: boolean;
  options?: string[];
  /** Few need it, so that it is folded away until it says something. */
  rare?: boolean;
};

const IN: WorkField = { path: ["in"], label: "Folder", help: "where the program works, as a full path" };

/** Files taken from version control when a run begins. */
const FROM: WorkField[] = [
  {
    path: ["from", "git"],
    label: "Repository",
    help: "files taken from Git at each run: https://, ssh:// or a full path; the folder is then one of theirs",
    rare: true,
  },
  {
    path: ["from", "at"],
    label: "Branch, tag or commit",
    help: "the repository's own where nothing is said",
    rare: true,
  },
  { path: ["from", "credential"], label: "Repository's credential", help: "whom it is asked as", rare: true },
  {
    path: ["from", "else"],
    label: "Where it does not answer",
    help: "fail, which is usual, or last: the files of the last time",
    options: ["", "fail", "last"],
    rare: true,
  },
];

const SURROUNDINGS: WorkField[] = [
  {
    path: ["environment"],
    label: "Environment",
    help: "variables as NAME: value, one a line",
    shape: "map",
    rare: true,
  },
  {
    path: ["secrets"],
    label: "Secrets",
    help: "variables as NAME: credential, one a line; values never stand here",
    shape: "map",
    rare: true,
  },
  {
    path: ["input"],
    label: "Standard input",
    help: "values: all of them as a JSON object",
    options: ["", "values"],
    rare: true,
  },
];

/** What a task can do, and the fields that each kind of work has. */
export const WORK: Record<string, { label: string; fields: WorkField[] }> = {
  command: {
    label: "a command, here or on another host",
    fields: [
      {
        path: ["command"],
        label: "Command",
        help: "the program and its arguments, one a line; no shell reads them",
        shape: "lines",
      },
      IN,
      ...SURROUNDINGS,
      ...FROM,
    ],
  },
  shell: {
    label: "a text for a shell",
    fields: [
      // biome-ignore lint/suspicious/noTemplateCurlyInString: people type it just so
      { path: ["shell"], label: "Text", help: "/bin/sh reads it, and every ${name} as it stands", multiline: true },
      IN,
      ...SURROUNDINGS,
      ...FROM,
    ],
  },
  request: {
    label: "an HTTP request",
    fields: [
      // biome-ignore lint/suspicious/noTemplateCurlyInString: people type it just so
      { path: ["request"], label: "Address", help: "http:// or https://; values as ${name}" },
      {
        path: ["method"],
        label: "Method",
        help: "GET where nothing is said",
        options: ["", "GET", "POST", "PUT", "PATCH", "DELETE", "HEAD"],
      },
      { path: ["headers"], label: "Headers", help: "as Name: value, one a line", shape: "map" },
      { path: ["body"], label: "Body", help: "what is sent; empty for nothing", multiline: true },
      { path: ["save-to"], label: "Keep the answer as", help: "the name of an output; empty to only look at it" },
      {
        path: ["expect"],
        label: "Good statuses",
        help: "such as 200 or 200-299, one a line",
        shape: "lines",
        rare: true,
      },
      {
        path: ["take"],
        label: "Values of the answer",
        help: "as name: /pointer (RFC 6901), one a line; they become values of the run",
        shape: "map",
        rare: true,
      },
      { path: ["patience"], label: "Patience", help: "ISO 8601; PT30S where nothing is said", rare: true },
    ],
  },
  sql: {
    label: "SQL in a database",
    fields: [
      {
        path: ["sql"],
        label: "Statement",
        // biome-ignore lint/suspicious/noTemplateCurlyInString: people type it just so
        help: "values as ${name} are bound, never read as SQL; between several stands a line with ; alone",
        shape: "statements",
      },
      { path: ["to-file"], label: "Rows go to", help: "an output that ends in .csv, .json, .xlsx, .html or .pdf" },
      { path: ["to-table", "table"], label: "or into the table", help: "columns by their names", rare: true },
      {
        path: ["to-table", "mode"],
        label: "What becomes of its rows",
        help: "slice: those of one value are replaced",
        options: ["", "append", "replace", "slice"],
        rare: true,
      },
      { path: ["to-table", "slice"], label: "The slice's column", help: "such as sold_on", rare: true },
      // biome-ignore lint/suspicious/noTemplateCurlyInString: people type it just so
      { path: ["to-table", "of"], label: "The slice's value", help: "such as ${day}", rare: true },
      {
        path: ["to-table", "database"],
        label: "The table's database",
        help: "a credential; empty for that of the statements",
        rare: true,
      },
    ],
  },
  checks: { label: "checks", fields: FROM },
  files: {
    label: "work on files",
    fields: [
      {
        path: ["files"],
        label: "What is done",
        help: "deleted files go into the quarantine where there is one",
        options: ["list", "delete", "move", "copy", "compress"],
      },
      { path: ["under"], label: "Root", help: "the folder; nothing outside of it is touched" },
      { path: ["matching"], label: "Which files", help: "such as *.csv or old/**" },
      { path: ["older-than"], label: "Older than", help: "ISO 8601, such as P30D" },
      { path: ["quarantine"], label: "Quarantine", help: "the folder that takes deleted files" },
      { path: ["to"], label: "To", help: "where files are moved, copied or compressed to" },
      { path: ["at-most"], label: "At most", help: "1000 where nothing is said; of more none is touched", rare: true },
      { path: ["newer-than"], label: "Newer than", help: "ISO 8601, such as PT1H", rare: true },
      { path: ["larger-than"], label: "Larger than", help: "such as 10MB", rare: true },
      { path: ["smaller-than"], label: "Smaller than", help: "such as 1GB", rare: true },
    ],
  },
  mail: {
    label: "a mail",
    fields: [
      // biome-ignore lint/suspicious/noTemplateCurlyInString: people type it just so
      { path: ["mail"], label: "Subject", help: "values as ${name}" },
      { path: ["to"], label: "To", help: "addresses, one a line", shape: "lines" },
      { path: ["text"], label: "Text", help: "what it says", multiline: true },
      {
        path: ["attach"],
        label: "Attach",
        help: "full paths, or STEP: OUTPUT of an earlier step, one a line",
        shape: "lines",
      },
    ],
  },
};

/** What a task of a kind begins with where there was another kind before. */
export const FRESH: Record<string, unknown> = {
  command: { command: ["./program.sh"] },
  shell: { shell: "echo hello" },
  request: { request: "http://kiosk.example.org/" },
  sql: { sql: "select 1" },
  checks: { checks: [{ name: "it answers", request: "http://kiosk.example.org/" }] },
  files: { files: "list", under: "/srv" },
  mail: { mail: "Hello", to: ["somebody@example.org"], text: "" },
};

/** The name of a field among those of its kind. */
export const nameOf = (field: WorkField) => field.path.join(".");

/** A number where the text is one, so that it is written as people write it. */
export const plain = (text: string) => (text !== "" && String(Number(text)) === text ? Number(text) : text);

const BETWEEN_STATEMENTS = /\n?^[ \t]*;[ \t]*$\n?/m;

/** The text that the form shows for what stands in a definition. */
export function shown(shape: Shape, value: unknown): string {
  if (value === undefined || value === null) return "";
  if (Array.isArray(value)) return value.map(String).join(shape === "statements" ? "\n;\n" : "\n");
  if (typeof value === "object")
    return Object.entries(value)
      .map(([name, each]) => `${name}: ${each}`)
      .join("\n");
  return String(value);
}

/** What stands in a definition for a text of the form; nothing for an empty one. */
export function meant(shape: Shape, text: string): unknown {
  if (text.trim() === "") return undefined;
  if (shape === "statements") {
    const statements = text.split(BETWEEN_STATEMENTS).filter((each) => each.trim() !== "");
    return statements.length > 1 ? statements : statements[0];
  }
  const lines = text.split("\n").filter((line) => line.trim() !== "");
  if (shape === "lines") return lines.map(plain);
  if (shape === "map") return Object.fromEntries(lines.map(entry));
  return plain(text);
}

function entry(line: string): [string, unknown] {
  const colon = line.indexOf(":");
  return colon < 0 ? [line.trim(), ""] : [line.slice(0, colon).trim(), plain(line.slice(colon + 1).trim())];
}
