import {
  type Document,
  isMap,
  isScalar,
  isSeq,
  parseDocument,
  type Scalar,
  visit,
  type YAMLMap,
  type YAMLSeq,
} from "yaml";
import type { ChainLink, ChainStep } from "./model";

/** The fields of a step that the form writes as they are. */
export type StepField =
  | "job"
  | "over"
  | "pause"
  | "when"
  | "join"
  | "matters"
  | "go-on"
  | "acts-as"
  | "priority"
  | "time-limit"
  | "meeting"
  | "of"
  | "within"
  | "then"
  | "with-chains"
  | "repeat.until"
  | "repeat.times"
  | "repeat.every"
  | "approval.by.team"
  | "approval.by.role"
  | "approval.within"
  | "approval.then"
  | "approval.asks"
  | "approval.not-by-starter"
  | "approval.tells";

/** Fields that hold several texts. */
const LISTS: StepField[] = ["with-chains", "approval.tells"];
/** Fields that a step of its kind cannot be without. */
const NEEDED: StepField[] = ["job", "pause", "meeting", "approval.by.team"];

export const STEP_FIELDS: Record<string, StepField[]> = {
  job: [
    "job",
    "over",
    "when",
    "join",
    "matters",
    "go-on",
    "acts-as",
    "priority",
    "time-limit",
    "repeat.until",
    "repeat.times",
    "repeat.every",
  ],
  pause: ["pause", "when", "join"],
  approval: [
    "approval.by.team",
    "approval.by.role",
    "approval.asks",
    "approval.within",
    "approval.then",
    "approval.not-by-starter",
    "approval.tells",
    "when",
    "join",
    "matters",
  ],
  meeting: ["meeting", "of", "with-chains", "within", "then", "when", "join", "matters"],
};

export type DraftStep = ChainStep & { fields: Partial<Record<StepField, string>>; with: string };

export type ChainDraft = { name: string; team: string; steps: DraftStep[] };

export const NEW_CHAIN = `chain: 
team: 
about: 
steps:
  - { step: first, job: some-job }
`;

const ENDS = ["success", "failure", "any", "warnings"];

type At = { list: "steps" | "finally"; index: number; map: YAMLMap };

/** What the picture and the form show of a chain; nothing where the text is no YAML or no chain. */
export function readChain(text: string): ChainDraft | undefined {
  const document = parsed(text);
  if (document.errors.length > 0 || !document.has("chain")) return undefined;
  const before: Record<string, string> = { steps: "", finally: "" };
  const steps = places(document).map((at): DraftStep => {
    const step = read(at, before[at.list]);
    before[at.list] = step.step;
    return step;
  });
  return { name: plain(document.get("chain", true)), team: plain(document.get("team", true)), steps };
}

function places(document: Document): At[] {
  return (["steps", "finally"] as const).flatMap((list) => {
    const items = document.get(list, true);
    if (!isSeq(items)) return [];
    return (items as YAMLSeq).items.flatMap((map, index) => (isMap(map) ? [{ list, index, map }] : []));
  });
}

const plain = (value: unknown): string => {
  if (isScalar(value)) return String(value.source ?? value.value ?? "");
  return value === undefined || value === null ? "" : String(value);
};

/** What stands at a place in a step, on one line. */
function textOf(map: YAMLMap, field: string): string {
  const node = field.includes(".") ? map.getIn(field.split("."), true) : map.get(field, true);
  if (isSeq(node)) return node.items.map(plain).join(", ");
  if (isMap(node)) return `{ ${node.items.map((pair) => `${plain(pair.key)}: ${plain(pair.value)}`).join(", ")} }`;
  return plain(node);
}

function nameOf(map: YAMLMap): string {
  return textOf(map, "step") || textOf(map, "job") || textOf(map, "meeting");
}

function kindOf(map: YAMLMap): string {
  return ["pause", "approval", "meeting"].find((kind) => map.has(kind)) ?? (map.has("over") ? "sweep" : "job");
}

function read({ list, map }: At, before: string): DraftStep {
  const last = list === "finally";
  const links = linksOf(map, before, last);
  const kind = kindOf(map);
  const fields: DraftStep["fields"] = {};
  for (const key of STEP_FIELDS[kind === "sweep" ? "job" : kind])
    if (map.hasIn(key.split("."))) fields[key] = textOf(map, key);
  const values = map.get("with", true);
  return {
    step: nameOf(map),
    kind,
    job: textOf(map, "job") || undefined,
    over: textOf(map, "over") || undefined,
    links,
    linksInWords: links.length === 0 ? (last ? "at the end" : "at once") : links.map(inWords).join(" and "),
    when: textOf(map, "when") || undefined,
    does: doesOf(kind, map),
    last,
    matters: !["no", "false"].includes(textOf(map, "matters")),
    goesOn: ["yes", "true"].includes(textOf(map, "go-on")),
    fields,
    with: isMap(values) ? values.items.map((pair) => `${plain(pair.key)}=${plain(pair.value)}`).join("\n") : "",
  };
}

const inWords = (link: ChainLink) => `after ${link.after} on ${link.on}`;

function doesOf(kind: string, map: YAMLMap): string {
  if (kind === "sweep") return `runs ${textOf(map, "job")} over ${textOf(map, "over")}`;
  if (kind === "job") return `runs ${textOf(map, "job")}`;
  return kind === "pause" ? `waits ${textOf(map, "pause")}` : kind === "approval" ? "asks people" : "waits for others";
}

function linksOf(map: YAMLMap, before: string, last: boolean): ChainLink[] {
  const on = textOf(map, "on") || (last ? "any" : "success");
  const after = map.get("after", true);
  if (after === undefined) return before ? [{ after: before, on }] : [];
  const items = isSeq(after) ? after.items : [after];
  return items.map((item) =>
    isMap(item)
      ? { after: textOf(item, "step"), on: textOf(item, "on") || on, when: textOf(item, "when") || undefined }
      : { after: plain(item), on },
  );
}

/** What was read last: a long chain takes as long to read as two frames last, and is mostly read right after an edit. */
let latest: { text: string; document: Document } | undefined;

function parsed(text: string): Document {
  if (latest?.text !== text) latest = { text, document: parseDocument(text) };
  return latest.document;
}

/** Changes the steps of a chain. Comments and whatever is not touched stay as they were. */
function edit(text: string, change: (document: Document, find: (name: string) => At | undefined) => void): string {
  const document = parsed(text);
  latest = undefined;
  const before = new Map<Scalar, unknown>();
  visit(document, { Scalar: (_, node) => void before.set(node, node.value) });
  change(document, (name) => places(document).find(({ map }) => nameOf(map) === name));
  // how a value was written once is not how it reads now
  for (const [node, value] of before) if (node.value !== value) node.source = undefined;
  const changed = document.toString({ lineWidth: 120, flowCollectionPadding: true });
  latest = { text: changed, document };
  return changed;
}

/** Says for a step what it follows, where it only stood below another. */
function spellOut(document: Document, name: string) {
  const before: Record<string, string> = { steps: "", finally: "" };
  for (const at of places(document)) {
    if (nameOf(at.map) === name && !at.map.has("after")) {
      write(document, at, linksOf(at.map, before[at.list], at.list === "finally"));
    }
    before[at.list] = nameOf(at.map);
  }
}

/** Writes what a step follows, as briefly as it can be said. */
function write(document: Document, { map, list }: At, links: ChainLink[]) {
  const usual = list === "finally" ? "any" : "success";
  const ends = new Set(links.map((link) => link.on));
  const plainOnes = links.every((link) => !link.when) && ends.size <= 1;
  if (plainOnes) {
    const [on = usual] = ends;
    const names = links.map((link) => link.after);
    map.set("after", document.createNode(names.length === 1 ? names[0] : names, { flow: true }));
    if (on === usual) map.delete("on");
    else map.set("on", on);
  } else {
    const items = links.map(({ after, on, when }) => ({ step: after, on, ...(when ? { when } : {}) }));
    map.delete("on");
    map.set("after", document.createNode(items, { flow: true }));
  }
}

/** Lets a step follow another. */
export function addLink(text: string, from: string, to: string, on = "success"): string {
  return edit(text, (document, find) => {
    spellOut(document, to);
    const at = find(to);
    if (!at || from === to) return;
    const links = linksOf(at.map, "", at.list === "finally");
    if (!links.some((link) => link.after === from)) write(document, at, [...links, { after: from, on }]);
  });
}

/** Lets a step follow another no more. */
export function removeLink(text: string, from: string, to: string): string {
  return edit(text, (document, find) => {
    spellOut(document, to);
    const at = find(to);
    if (at)
      write(
        document,
        at,
        linksOf(at.map, "", false).filter((link) => link.after !== from),
      );
  });
}

/** Changes on which end of another a step follows. */
export function setEnd(text: string, from: string, to: string, on: string): string {
  if (!ENDS.includes(on)) return text;
  return edit(text, (document, find) => {
    spellOut(document, to);
    const at = find(to);
    if (!at) return;
    const links = linksOf(at.map, "", at.list === "finally");
    write(
      document,
      at,
      links.map((link) => (link.after === from ? { ...link, on } : link)),
    );
  });
}

/** A new step that follows another, or none; its name is free. @param kind job, pause, approval or meeting */
export function addStep(text: string, kind: string, after: string, last = false): { text: string; name: string } {
  const names = readChain(text)?.steps.map((step) => step.step) ?? [];
  const base = kind === "job" ? "step" : kind;
  let number = names.length + 1;
  while (names.includes(`${base}-${number}`)) number++;
  const name = `${base}-${number}`;
  const work: Record<string, unknown> =
    kind === "pause"
      ? { pause: "10 min" }
      : kind === "approval"
        ? { approval: { by: { team: "" }, within: "2 h" } }
        : kind === "meeting"
          ? { meeting: name, within: "1 h" }
          : { job: "" };
  const changed = edit(text, (document) => {
    const list = last ? "finally" : "steps";
    if (!isSeq(document.get(list, true))) document.set(list, document.createNode([]));
    const node = document.createNode({ step: name, ...work, after: after || [] }, { flow: true });
    document.addIn([list], node);
  });
  return { text: changed, name };
}

/** Takes a step away; what followed it follows what it had followed. */
export function removeStep(text: string, name: string): string {
  return edit(text, (document, find) => {
    for (const { map } of places(document)) spellOut(document, nameOf(map));
    const gone = find(name);
    if (!gone) return;
    const before = linksOf(gone.map, "", gone.list === "finally");
    for (const at of places(document)) {
      const links = linksOf(at.map, "", at.list === "finally");
      if (links.some((link) => link.after === name)) {
        const rest = links.filter((link) => link.after !== name);
        const joined = before.filter((link) => !rest.some((other) => other.after === link.after));
        write(document, at, [...rest, ...joined]);
      }
    }
    document.deleteIn([gone.list, gone.index]);
  });
}

/** Gives a step another name, everywhere. */
export function renameStep(text: string, name: string, fresh: string): string {
  return edit(text, (document, find) => {
    for (const { map } of places(document)) spellOut(document, nameOf(map));
    find(name)?.map.set("step", fresh);
    for (const at of places(document)) {
      const links = linksOf(at.map, "", at.list === "finally");
      if (links.some((link) => link.after === name)) {
        write(
          document,
          at,
          links.map((link) => (link.after === name ? { ...link, after: fresh } : link)),
        );
      }
    }
  });
}

function nodeOf(document: Document, field: StepField, value: string): unknown {
  if (LISTS.includes(field)) {
    return document.createNode(
      value.split(",").map((each) => each.trim()),
      { flow: true },
    );
  }
  // the rows of an earlier sweep: { rows-of: settle, that: failed }
  if (field === "over" && value.startsWith("{")) {
    const rows = parseDocument(value);
    if (rows.errors.length === 0) return document.createNode(rows.toJS(), { flow: true });
  }
  return /^\d+$/.test(value) ? Number(value) : value;
}

/** Changes a field of a step; an empty one goes. */
export function setStepField(text: string, name: string, field: StepField, value: string): string {
  return edit(text, (document, find) => {
    const map = find(name)?.map;
    if (!map) return;
    // the step keeps its name where that came from the job
    if (!map.has("step")) map.set("step", name);
    const path = field.split(".");
    if (value === "" && !NEEDED.includes(field)) {
      map.deleteIn(path);
      // what holds nothing more is not there
      const rest = map.get(path[0], true);
      if (isMap(rest) && rest.items.length === 0) map.delete(path[0]);
    } else {
      map.setIn(path, nodeOf(document, field, value));
    }
  });
}

/** Changes the values that a step hands over: NAME=VALUE, one a line. */
export function setStepValues(text: string, name: string, lines: string): string {
  return edit(text, (document, find) => {
    const map = find(name)?.map;
    if (!map) return;
    const entries = lines
      .split("\n")
      .filter((line) => line.includes("="))
      .map((line) => [line.slice(0, line.indexOf("=")).trim(), line.slice(line.indexOf("=") + 1).trim()]);
    if (entries.length === 0) map.delete("with");
    else map.set("with", document.createNode(Object.fromEntries(entries), { flow: true }));
  });
}
