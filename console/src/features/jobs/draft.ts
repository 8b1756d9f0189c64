import { type Document, isCollection, isMap, isScalar, parseDocument } from "yaml";
import { FRESH, meant, nameOf, shown, WORK, type WorkField } from "./work";

/** The parts of a task's definition that the form shows; the rest stays as it is written. */
export type Draft = {
  task: string;
  team: string;
  about: string;
  actsAs: string;
  raised: string;
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
  keepOutputs: string;
  whileRunning: string;
  apartBy: string;
  lanes: string;
  priority: string;
  stopAt: string;
  totalLimit: string;
  stopPatience: string;
  longAfter: string;
  retryTries: string;
  retryWait: string;
  retryGrowth: string;
  goodWithin: string;
  startsWithin: string;
  comingStart: string;
  /** What is done: one of the kinds of work, with its fields by their names. */
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
  raised: ["raised"],
  timeLimit: ["time-limit"],
  mail: ["notify", "failed"],
  succeeded: ["exit-codes", "succeeded"],
  warned: ["exit-codes", "warned"],
  failedBy: ["outcome", "failed-by"],
  warnedBy: ["outcome", "warned-by"],
  errorStream: ["outcome", "error-stream"],
  testResults: ["outcome", "test-results"],
  keepOutputs: ["keep-outputs"],
  whileRunning: ["while-running"],
  apartBy: ["apart-by"],
  lanes: ["lanes"],
  priority: ["priority"],
  stopAt: ["stop-at"],
  totalLimit: ["total-limit"],
  stopPatience: ["stop-patience"],
  longAfter: ["long-after"],
  retryTries: ["retry", "tries"],
  retryWait: ["retry", "wait"],
  retryGrowth: ["retry", "growth"],
  goodWithin: ["expect", "good-within"],
  startsWithin: ["expect", "starts-within"],
  comingStart: ["expect", "coming-start"],
  when: ["schedules", 0, "when"],
  zone: ["schedules", 0, "zone"],
};

/** Fields whose text is a list, one a line. */
const LISTS: DraftField[] = ["mail", "succeeded", "warned", "failedBy", "warnedBy", "apartBy"];

/** Fields that are a number where they look like one; other texts stay texts. */
const NUMBERS: DraftField[] = ["whileRunning", "priority", "retryTries", "retryGrowth"];

/** What stands at a place, as plain values; a word such as yes or 02:30 is as it is written. */
function valueAt(document: Document, path: Path): unknown {
  const found = document.getIn(path, true) as unknown;
  if (isScalar(found)) return found.source ?? found.value;
  return isCollection(found) ? found.toJSON() : found;
}

/** What the form shows of a definition; nothing where the text is no YAML or no task. */
export function readDraft(text: string): Draft | undefined {
  const document = parseDocument(text);
  if (document.errors.length > 0 || !document.has("task")) return undefined;
  const entries = Object.entries(PATHS).map(([field, path]) => [field, shown("text", valueAt(document, path))]);
  const kind = Object.keys(WORK).find((each) => document.hasIn(["does", each])) ?? "";
  const fields = WORK[kind]?.fields ?? [];
  const work = Object.fromEntries(
    fields.map((field) => [nameOf(field), shown(field.shape ?? "text", valueAt(document, ["does", ...field.path]))]),
  );
  return { ...Object.fromEntries(entries), kind, work } as Draft;
}

/** The definition with another kind of work; what the old one said is gone, and Undo brings it back. */
export function writeKind(text: string, kind: string): string {
  const document = parseDocument(text);
  document.set("does", document.createNode(FRESH[kind]));
  return document.toString({ lineWidth: 110, flowCollectionPadding: true });
}

/** The definition with one field of its work changed. */
export function writeWork(text: string, field: WorkField, value: string): string {
  const document = parseDocument(text);
  const path = ["does", ...field.path];
  const wanted = meant(field.shape ?? "text", value);
  // without the key that says what is done there would be no form to go on in
  const kept = wanted === undefined && field.path.length === 1 && field.path[0] in WORK ? "" : wanted;
  const flow = field.shape !== "statements";
  setOrDelete(document, path, typeof kept === "object" ? document.createNode(kept, { flow }) : kept);
  return document.toString({ lineWidth: 110, flowCollectionPadding: true });
}

/** The definition with one field changed; comments and everything else stay as they were. */
export function writeField(text: string, field: DraftField, value: string): string {
  const document = parseDocument(text);
  const lines = value.split("\n").filter((line) => line !== "");
  if (field === "lanes") {
    const node = lines.length > 0 ? document.createNode(lanesOf(lines), { flow: true }) : undefined;
    setOrDelete(document, PATHS[field], node);
  } else if (LISTS.includes(field)) {
    const items = PATHS[field][0] === "exit-codes" ? lines.map(Number).filter(Number.isInteger) : lines;
    setOrDelete(document, PATHS[field], items.length > 0 ? document.createNode(items, { flow: true }) : undefined);
  } else if ((field === "when" || field === "zone") && !document.hasIn(["schedules", 0])) {
    const fresh = { name: "first", when: field === "when" ? value : "", zone: field === "zone" ? value : ownZone() };
    document.set("schedules", document.createNode([fresh]));
  } else if (NUMBERS.includes(field) && /^\d+(\.\d+)?$/.test(value)) {
    setOrDelete(document, PATHS[field], Number(value));
  } else {
    setOrDelete(document, PATHS[field], value === "" && field !== "task" && field !== "team" ? undefined : value);
  }
  return document.toString({ lineWidth: 110, flowCollectionPadding: true });
}

/** Lanes as a list of names, or with their places where one takes more than one. */
function lanesOf(lines: string[]): string[] | Record<string, number | string> {
  const lanes = lines.map((line) => line.split(/\s*:\s*/));
  if (lanes.every(([, places]) => places === undefined)) return lines;
  const number = (places = "1") => (/^\d+$/.test(places) ? Number(places) : places);
  return Object.fromEntries(lanes.map(([name, places]) => [name, number(places)]));
}

function setOrDelete(document: Document, path: Path, value: unknown) {
  if (value === undefined) {
    document.deleteIn(path);
    const above = document.getIn(path.slice(0, -1)) as unknown;
    if (path.length > 1 && isMap(above) && above.items.length === 0) document.deleteIn(path.slice(0, -1));
    if (path[2] === "when") document.delete("schedules");
  } else {
    if (path.length === 3 && !document.hasIn(path.slice(0, -1))) {
      document.setIn(path.slice(0, -1), document.createNode({}, { flow: true }));
    }
    document.setIn(path, value);
  }
}

const ownZone = () => Intl.DateTimeFormat().resolvedOptions().timeZone;
