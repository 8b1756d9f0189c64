import { type Document, isMap, isScalar, isSeq, parseDocument, type YAMLMap } from "yaml";
import { plain } from "./work";

/** One of several alike things in a definition: a parameter, a check. Its values by their keys. */
export type Part = Record<string, string>;

/** A field of a part. With several keys one of them is chosen, and the value stands under it. */
export type PartField = {
  keys: string[];
  label: string;
  help?: string;
  options?: string[];
  list?: boolean;
  /** Only parts of these types have it. */
  types?: string[];
  /** Only such parts have it. */
  only?: (part: Part) => boolean;
};

/** Where parts of a kind stand: in a list, or in a map by their names. */
export type PartKind = { one: string; path: string[]; named: boolean; fresh: Part; fields: PartField[] };

const ORDERED = ["number", "date", "time", "date-time", "duration"];
const YES_NO = ["", "yes", "no"];

export const PARAMETERS: PartKind = {
  one: "parameter",
  path: ["parameters"],
  named: true,
  fresh: { name: "value", type: "text" },
  fields: [
    {
      keys: ["type"],
      label: "type",
      options: ["text", "choice", "yes-no", "list", "path", "secret", ...ORDERED],
    },
    { keys: ["about"], label: "about", help: "one line for those who start it" },
    // biome-ignore lint/suspicious/noTemplateCurlyInString: people type it just so
    { keys: ["default"], label: "default", help: "such as ${planned.date - days(1)}; without one it must be given" },
    { keys: ["of"], label: "of", help: "the values, with commas", list: true, types: ["choice", "list"] },
    { keys: ["pattern"], label: "pattern", help: "a regular expression", types: ["text", "path", "list"] },
    { keys: ["least"], label: "least", types: ORDERED },
    { keys: ["most"], label: "most", types: ORDERED },
    { keys: ["required"], label: "required", help: "no: it may stay empty", options: YES_NO },
    { keys: ["ask"], label: "ask", help: "yes: a start by hand must give it", options: YES_NO },
  ],
};

export const CHECKS: PartKind = {
  one: "check",
  path: ["does", "checks"],
  named: false,
  fresh: { name: "it answers", request: "http://kiosk.example.org/" },
  fields: [
    { keys: ["name"], label: "what is expected" },
    { keys: ["sql", "request", "file"], label: "looks at" },
    {
      keys: ["equals", "at-least", "at-most", "contains", "newer-than", "larger-than"],
      label: "must be",
      help: "a request is good with status 200 to 299 where nothing is said here",
    },
    { keys: ["acts-as"], label: "acts as", help: "a credential; empty for that of the task" },
  ],
};

export const OUTPUTS: PartKind = {
  one: "output",
  path: ["outputs"],
  named: false,
  fresh: { file: "out/result.csv" },
  fields: [
    // biome-ignore lint/suspicious/noTemplateCurlyInString: people type it just so
    { keys: ["file"], label: "file or folder", help: "from the working folder, such as out/sales-${day}.csv" },
    { keys: ["name"], label: "kept as", help: "empty for its own name" },
    { keys: ["at-most"], label: "at most", help: "a size such as 10MB" },
  ],
};

const isGate =
  (...keys: string[]) =>
  (part: Part) =>
    keys.some((key) => key in part);

export const GATES: PartKind = {
  one: "gate",
  path: ["gates"],
  named: false,
  fresh: { file: "/srv/list.csv", settled: "1 min" },
  fields: [
    {
      keys: ["file", "free", "load", "between", "calendar", "job", "request", "sql", "when"],
      label: "waits for",
      help: "a file, also as /srv/tides/*.csv, space such as 2GB, a load below, a time of day, a calendar's days, a job's end, an answer, a value, a condition",
    },
    { keys: ["settled"], label: "unchanged for", help: "such as 1 min", only: isGate("file") },
    { keys: ["under"], label: "folder", help: "whose file system is looked at", only: isGate("free") },
    { keys: ["during"], label: "for as long as", help: "such as 5 min", only: isGate("load") },
    {
      keys: ["host"],
      label: "host",
      help: "a credential of the kind ssh; empty for this host",
      only: isGate("file", "free", "load"),
    },
    { keys: ["and"], label: "until", help: "a local time such as 06:00", only: isGate("between") },
    { keys: ["ended"], label: "ended", options: ["", "good", "any"], only: isGate("job") },
    { keys: ["since"], label: "since", help: "planned.date, which is usual, or such as 12 h", only: isGate("job") },
    {
      keys: ["equals", "at-least", "at-most", "contains"],
      label: "must be",
      help: "what its value has to be",
      only: isGate("request", "sql"),
    },
    { keys: ["acts-as"], label: "acts as", help: "a credential", only: isGate("request", "sql") },
  ],
};

const isOn =
  (...types: string[]) =>
  (part: Part) =>
    types.some((type) => (part.on ?? "").startsWith(type));

const FILES = ["file.", "folder."];

/** What starts a job beside its schedules. @param types the types of events that there are */
export const triggers = (types: string[]): PartKind => ({
  one: "trigger",
  path: ["triggers"],
  named: false,
  fresh: { name: "after", on: "run.ended", of: "another-job" },
  fields: [
    { keys: ["name"], label: "name" },
    { keys: ["on"], label: "on", options: types },
    {
      keys: ["of"],
      label: "of",
      help: "jobs, by names or patterns such as settle-*, with commas",
      list: true,
      only: isOn("run.", "chain.", "step.", "job."),
    },
    { keys: ["labels"], label: "labels", help: "with commas", list: true, only: isOn("run.", "job.") },
    {
      keys: ["ends"],
      label: "ends",
      help: "such as failed, timed-out",
      list: true,
      only: isOn("run.ended", "step.ended"),
    },
    { keys: ["step"], label: "step", only: isOn("step.") },
    { keys: ["under"], label: "folder", help: "as a full path", only: isOn(...FILES) },
    { keys: ["matching"], label: "files", help: "such as *.csv, with commas", list: true, only: isOn(...FILES) },
    {
      keys: ["settled", "marker"],
      label: "is whole when",
      help: "unchanged for so long, or beside a file of that ending",
      only: isOn("file.arrived", "file.changed"),
    },
    { keys: ["age"], label: "age", help: "such as 2 days", only: isOn("file.aged") },
    { keys: ["for"], label: "silent for", help: "such as 26 h", only: isOn("folder.silent") },
    { keys: ["token", "signature"], label: "shown by the call", help: "a credential", only: isOn("call.") },
    { keys: ["sql"], label: "query", only: isOn("row.") },
    { keys: ["key"], label: "key", help: "the column that tells rows apart", only: isOn("row.") },
    { keys: ["acts-as"], label: "acts as", help: "the credential of the database", only: isOn("row.") },
    { keys: ["when"], label: "where", help: "a condition (CEL) such as event.state == 'failed'" },
    { keys: ["delay"], label: "delay", help: "such as 5 min" },
  ],
});

/** Which of a field's keys a part uses. */
export const keyOf = (part: Part, field: PartField) => field.keys.find((key) => key in part) ?? field.keys[0];

function text(value: unknown): string {
  if (isSeq(value)) return (value.toJSON() as unknown[]).map(String).join(", ");
  if (isScalar(value)) return String(value.source ?? value.value ?? "");
  return value === undefined || value === null ? "" : String(value);
}

function maps(document: Document, kind: PartKind): [string, YAMLMap][] {
  const found = document.getIn(kind.path) as unknown;
  if (kind.named && isMap(found)) {
    return found.items.filter((pair) => isMap(pair.value)).map((pair) => [text(pair.key), pair.value as YAMLMap]);
  }
  return isSeq(found) ? found.items.filter(isMap).map((map) => ["", map]) : [];
}

/** The parts of a kind in a definition. */
export function readParts(definition: string, kind: PartKind): Part[] {
  return maps(parseDocument(definition), kind).map(([name, map]) => ({
    ...(kind.named ? { name } : {}),
    ...Object.fromEntries(map.items.map((pair) => [text(pair.key), text(pair.value)])),
  }));
}

function edit(definition: string, change: (document: Document) => void): string {
  const document = parseDocument(definition);
  change(document);
  return document.toString({ lineWidth: 110, flowCollectionPadding: true });
}

/** The definition with one value of a part changed; an empty one is taken out. */
export function writePart(
  definition: string,
  kind: PartKind,
  index: number,
  field: PartField,
  key: string,
  value: string,
): string {
  return edit(definition, (document) => {
    const map = maps(document, kind)[index]?.[1];
    if (!map) return;
    const before = field.keys.find((each) => map.has(each));
    if (before && before !== key) map.delete(before);
    const items = value.split(/\s*,\s*/).filter((item) => item !== "");
    if (value === "" && field.keys.length === 1) map.delete(key);
    else map.set(key, field.list ? document.createNode(items, { flow: true }) : plain(value));
  });
}

/** The definition with another name for a part; as it was where there is one of that name already. */
export function renamePart(definition: string, kind: PartKind, index: number, name: string): string {
  const all = readParts(definition, kind);
  if (name === "" || all.some((part) => part.name === name)) return definition;
  return edit(definition, (document) => {
    const found = document.getIn(kind.path) as YAMLMap;
    const pair = found.items.filter((each) => isMap(each.value))[index];
    if (pair) pair.key = document.createNode(name);
  });
}

/** The definition with one more part at the end. */
export function addPart(definition: string, kind: PartKind): string {
  const { name, ...rest } = kind.fresh;
  return edit(definition, (document) => {
    if (!kind.named) {
      if (isSeq(document.getIn(kind.path))) document.addIn(kind.path, document.createNode(kind.fresh, { flow: true }));
      else document.setIn(kind.path, document.createNode([kind.fresh]));
      return;
    }
    const names = maps(document, kind).map(([each]) => each);
    let free = name;
    for (let i = 2; names.includes(free); i++) free = `${name}-${i}`;
    const fresh = document.createNode(rest, { flow: true });
    if (isMap(document.getIn(kind.path))) document.setIn([...kind.path, free], fresh);
    else document.setIn(kind.path, document.createNode({ [free]: fresh }));
  });
}

/** The definition without a part; with the last one its place goes too. */
export function removePart(definition: string, kind: PartKind, index: number): string {
  return edit(definition, (document) => {
    const all = maps(document, kind);
    if (kind.named && all.length === 1) document.deleteIn(kind.path);
    else document.deleteIn([...kind.path, kind.named ? all[index][0] : index]);
  });
}
