import { parseDocument, type YAMLMap, type YAMLSeq } from "yaml";

/** The definition of a new calendar. */
export const newCalendar = (team: string) => `calendar: new-calendar
team: ${team}
about: 
days: weekdays
closed: []
`;

const LISTS = ["closed", "open"] as const;

/** The definition with one day turned around: closed where it is open, open where it is closed. */
export function toggleDay(definition: string, date: string, open: boolean, label: string): string {
  const document = parseDocument(definition);
  const [add, remove] = open ? LISTS : [LISTS[1], LISTS[0]];
  const other = document.get(remove) as YAMLSeq<YAMLMap> | undefined;
  const there = other?.items?.findIndex((item) => String(item.get?.("on") ?? "") === date) ?? -1;
  if (there >= 0) {
    document.deleteIn([remove, there]);
    if (other?.items.length === 0) document.delete(remove);
  } else {
    const entry = document.createNode(label ? { on: date, label } : { on: date }, { flow: true });
    const list = document.get(add) as YAMLSeq | undefined;
    if (list?.items) {
      list.flow = false;
      document.addIn([add], entry);
    } else document.set(add, document.createNode([entry]));
  }
  return document.toString({ lineWidth: 0, flowCollectionPadding: true });
}
