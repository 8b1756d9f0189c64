import { type Document, parseDocument } from "yaml";

/** The parts of a task's definition that the form shows; the rest stays as it is written. */
export type Draft = {
  task: string;
  team: string;
  about: string;
  command: string;
  folder: string;
  timeLimit: string;
  mail: string;
  when: string;
  zone: string;
};

export const NEW_TASK = `task: 
team: 
about: 
does:
  command: [ ./program.sh ]
  in: /srv
`;

type Path = (string | number)[];

const PATHS: Record<keyof Draft, Path> = {
  task: ["task"],
  team: ["team"],
  about: ["about"],
  command: ["does", "command"],
  folder: ["does", "in"],
  timeLimit: ["time-limit"],
  mail: ["notify", "failed"],
  when: ["schedules", 0, "when"],
  zone: ["schedules", 0, "zone"],
};

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
  return Object.fromEntries(entries) as Draft;
}

/** The definition with one field changed; comments and everything else stay as they were. */
export function writeField(text: string, field: keyof Draft, value: string): string {
  const document = parseDocument(text);
  const lines = value.split("\n").filter((line) => line !== "");
  if (field === "command" || field === "mail") {
    setOrDelete(document, PATHS[field], lines.length > 0 ? document.createNode(lines, { flow: true }) : undefined);
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
    if (path[0] === "notify") document.delete("notify");
    if (path[2] === "when") document.delete("schedules");
  } else {
    document.setIn(path, value);
  }
}

const ownZone = () => Intl.DateTimeFormat().resolvedOptions().timeZone;
