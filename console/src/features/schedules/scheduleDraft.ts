import { parseDocument, type YAMLMap, type YAMLSeq } from "yaml";

/** What the schedule editor changes of a schedule; its values and catch-up stay as they are written. */
export type ScheduleDraft = {
  name: string;
  when: string;
  zone: string;
  calendar: string;
  except: string;
  shift: string;
  window: string;
  from: string;
  until: string;
};

const FIELDS: (keyof ScheduleDraft)[] = [
  "name",
  "when",
  "zone",
  "calendar",
  "except",
  "shift",
  "window",
  "from",
  "until",
];

function find(definition: string, name: string) {
  const document = parseDocument(definition);
  const list = document.get("schedules") as YAMLSeq<YAMLMap> | undefined;
  const index = list?.items.findIndex((item) => item.get("name") === name) ?? -1;
  return { document, index };
}

/** A schedule of a definition as a draft; nothing where it has none of that name. */
export function readSchedule(definition: string, name: string): ScheduleDraft | undefined {
  const { document, index } = find(definition, name);
  if (index < 0) return undefined;
  const value = (field: string) => {
    const found = document.getIn(["schedules", index, field]);
    return found === undefined || found === null ? "" : String(found);
  };
  return Object.fromEntries(FIELDS.map((field) => [field, value(field)])) as ScheduleDraft;
}

/** The definition with one schedule changed, or added where it has none of that name. */
export function writeSchedule(definition: string, name: string, draft: ScheduleDraft): string {
  const { document, index } = find(definition, name);
  const fields = FIELDS.filter((field) => draft[field] !== "");
  if (index < 0) {
    const fresh = document.createNode(Object.fromEntries(fields.map((field) => [field, draft[field]])), { flow: true });
    if (document.has("schedules")) document.addIn(["schedules"], fresh);
    else document.set("schedules", document.createNode([fresh]));
  } else {
    for (const field of FIELDS) {
      if (draft[field] !== "") document.setIn(["schedules", index, field], draft[field]);
      else document.deleteIn(["schedules", index, field]);
    }
  }
  return document.toString({ lineWidth: 0, flowCollectionPadding: true });
}

/** The definition without a schedule. */
export function removeSchedule(definition: string, name: string): string {
  const { document, index } = find(definition, name);
  if (index >= 0) document.deleteIn(["schedules", index]);
  const left = document.get("schedules") as YAMLSeq | undefined;
  if (left?.items.length === 0) document.delete("schedules");
  return document.toString({ lineWidth: 0, flowCollectionPadding: true });
}
