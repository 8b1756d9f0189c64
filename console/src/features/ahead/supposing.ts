import type { ComingStart, Forecast } from "../../api/types";
import { durationWords, millis } from "../../ui/times";

/** What can be supposed, with what it is of and what its value looks like. */
export const KINDS = [
  { key: "lane", label: "a lane's width", of: "lane", example: "2" },
  { key: "duration", label: "a job's usual length", of: "job", example: "45 min" },
  { key: "schedule", label: "a schedule's rule", of: "job/schedule", example: "every day at 03:00" },
  { key: "places", label: "the service's places", of: "", example: "8" },
] as const;

export type Kind = (typeof KINDS)[number];

/** A supposition as the service reads it. */
export function supposition(kind: Kind, name: string, value: string): string {
  return `${kind.of ? `${kind.key}.${name.trim()}` : kind.key}=${value.trim()}`;
}

const subject = (text: string) => text.slice(0, text.indexOf("="));

/** Those that are supposed with one more, which takes the place of one of the same. */
export function withOne(all: string[], one: string): string[] {
  return [...all.filter((each) => subject(each) !== subject(one)), one];
}

/** A supposition for people. */
export function inWords(text: string): string {
  const key = subject(text);
  const value = text.slice(key.length + 1);
  if (key === "places") return `the service has ${value} ${value === "1" ? "place" : "places"}`;
  const name = key.slice(key.indexOf(".") + 1);
  if (key.startsWith("lane.")) return `lane ${name} is ${value} wide`;
  return key.startsWith("duration.") ? `${name} takes ${value}` : `${name} is ${value}`;
}

const sameStart = (start: ComingStart) => `${start.job}/${start.schedule}/${start.at}`;

const isLate = (start: ComingStart) => (start.late ? millis(start.late) > 0 : !!start.stuck && !!start.deadline);

/** Starts of a span, which begins and ends as it is asked for: two that are compared may be some moments apart. */
type Spanned = Pick<Forecast, "from" | "until" | "starts">;

const moment = (at: string) => new Date(at).getTime();

/** How a start's end differs from what it is without all that: in milliseconds, or in words where one of them has no end. */
export function compared(supposed: Spanned, asItIs: Spanned) {
  const from = Math.max(moment(supposed.from), moment(asItIs.from));
  const until = Math.min(moment(supposed.until), moment(asItIs.until));
  const inBoth = (start: ComingStart) => moment(start.at) >= from && moment(start.at) < until;
  const starts = supposed.starts.filter(inBoth);
  const before = asItIs.starts.filter(inBoth);
  const was = new Map(before.map((start) => [sameStart(start), start]));
  const ends = (start: ComingStart) => (start.ends ? moment(start.ends) : undefined);
  return {
    /** Later by so much; negative for earlier. */
    shift(start: ComingStart): number | undefined {
      const [now, then] = [ends(start), ends(was.get(sameStart(start)) ?? start)];
      return now === undefined || then === undefined ? undefined : now - then;
    },
    words(start: ComingStart): string {
      const old = was.get(sameStart(start));
      if (!old) return inBoth(start) ? "only then" : "";
      const [now, then] = [ends(start), ends(old)];
      if (now === undefined || then === undefined) {
        return now === then ? "" : now === undefined ? "it had an end" : "it had none";
      }
      const by = durationWords(Math.abs(now - then));
      const kept = isLate(old) === isLate(start) ? "" : isLate(old) ? ", in time" : ", late";
      return now === then ? "" : `${by} ${now > then ? "later" : "earlier"}${kept}`;
    },
    /** What all of it comes to. */
    sentence(): string {
      const shifts = starts.map((start) => this.shift(start) ?? 0);
      const earlier = shifts.filter((by) => by < 0).length;
      const common = starts.filter((start) => was.has(sameStart(start))).length;
      const many = (count: number, what: string) => `${count.toLocaleString("en")} ${what}`;
      const more = starts.length - common;
      const gone = before.length - common;
      return [
        `With that ${many(earlier, earlier === 1 ? "ends earlier" : "end earlier")}`,
        many(shifts.filter((by) => by > 0).length, "later"),
        ...(more > 0 ? [many(more, more === 1 ? "comes only then" : "come only then")] : []),
        ...(gone > 0 ? [many(gone, gone === 1 ? "falls away" : "fall away")] : []),
        `${many(starts.filter(isLate).length, "will be late")} instead of ${before.filter(isLate).length.toLocaleString("en")}`,
      ].join(", ");
    },
  };
}
