import { type DateStyle, dateStyle } from "./dateStyle";

/** Times and durations as people read them. */

const UNITS = /^P(?:(\d+)D)?(?:T(?:(\d+)H)?(?:(\d+)M)?(?:([\d.]+)S)?)?$/;

/** An ISO 8601 duration in milliseconds. */
export function millis(duration: string): number {
  const parts = duration.match(UNITS);
  if (!parts) return 0;
  const [, days = "0", hours = "0", minutes = "0", seconds = "0"] = parts;
  return (((Number(days) * 24 + Number(hours)) * 60 + Number(minutes)) * 60 + Number(seconds)) * 1000;
}

export function durationWords(ms: number): string {
  if (ms < 10_000) return `${(Math.floor(ms / 100) / 10).toFixed(1)} s`;
  const seconds = Math.floor(ms / 1000);
  if (seconds < 60) return `${seconds} s`;
  if (seconds < 600) return `${Math.floor(seconds / 60)} min${seconds % 60 ? ` ${seconds % 60} s` : ""}`;
  if (seconds < 3600) return `${Math.floor(seconds / 60)} min`;
  const minutes = Math.floor(seconds / 60);
  return `${Math.floor(minutes / 60)} h${minutes % 60 ? ` ${minutes % 60} min` : ""}`;
}

const LENGTHS: [RegExp, number][] = [
  [/^d(ays?)?$/, 86_400],
  [/^h(ours?|rs?)?$/, 3_600],
  [/^m(in(utes?|s)?)?$/, 60],
  [/^s(ec(onds?|s)?)?$/, 1],
];

/** A length as people type it, such as "1 h 30 min", by ISO 8601; what is none, or is ISO already, stays as it is. */
export function isoDuration(text: string): string {
  const parts = [
    ...text
      .trim()
      .toLowerCase()
      .matchAll(/(\d+)\s*([a-z]+)/g),
  ];
  if (parts.length === 0 || text.toLowerCase().replace(/(\d+)\s*([a-z]+)|and|[\s,]/g, "") !== "") return text;
  let seconds = 0;
  for (const [, count, unit] of parts) {
    const length = LENGTHS.find(([words]) => words.test(unit))?.[1];
    if (length === undefined) return text;
    seconds += Number(count) * length;
  }
  return `PT${seconds}S`;
}

export const ownZone = () => Intl.DateTimeFormat().resolvedOptions().timeZone;

const formats = new Map<string, Intl.DateTimeFormat>();

function format(zone: string, options: Intl.DateTimeFormatOptions): Intl.DateTimeFormat {
  const key = zone + JSON.stringify(options);
  const known = formats.get(key);
  if (known) return known;
  const made = new Intl.DateTimeFormat("en-GB", { timeZone: zone, ...options });
  formats.set(key, made);
  return made;
}

/** 14:32, or 14:32:05 */
export function clock(at: number | string, zone: string, seconds = false): string {
  const exact = seconds ? { second: "2-digit" as const } : {};
  return format(zone, { hour: "2-digit", minute: "2-digit", ...exact, hourCycle: "h23" }).format(new Date(at));
}

/** Whether a time is not on the full minute, so that its seconds have to be shown. */
export const withinMinute = (at: string) => new Date(at).getUTCSeconds() !== 0;

const yearOf = (at: number | string, zone: string) => format(zone, { year: "numeric" }).format(new Date(at));

/** Mon 23 Nov, with its year where that is not this one. */
function dayInWords(at: number | string, zone: string): string {
  const other = yearOf(at, zone) !== yearOf(Date.now(), zone);
  const year = other ? { year: "numeric" as const } : {};
  return format(zone, { weekday: "short", day: "numeric", month: "short", ...year })
    .format(new Date(at))
    .replace(",", "");
}

/** 2026-11-23 */
export function isoDay(at: number | string, zone: string): string {
  const parts = Object.fromEntries(
    format(zone, { year: "numeric", month: "2-digit", day: "2-digit" })
      .formatToParts(new Date(at))
      .map(({ type, value }) => [type, value]),
  );
  return `${parts.year}-${parts.month}-${parts.day}`;
}

/** A time as a style writes it. */
export function styled(at: number | string, zone: string, style: DateStyle, seconds = false): string {
  const day = style === "iso" ? isoDay(at, zone) : dayInWords(at, zone);
  return `${day} ${clock(at, zone, seconds)}`;
}

/** Mon 23 Nov 14:32, or 2026-11-23 14:32 for whoever likes that better */
export function dayAndClock(at: number | string, zone: string, seconds = false): string {
  return styled(at, zone, dateStyle(), seconds);
}

/** Mon 23 Nov 2026 14:32 */
export function fullDay(at: number | string, zone: string, seconds = false): string {
  const day = format(zone, { weekday: "short", day: "numeric", month: "short", year: "numeric" }).format(new Date(at));
  return `${day.replace(",", "")} ${clock(at, zone, seconds)}`;
}

/** Europe/Oslo is called Oslo where there is little room. */
export const zoneName = (zone: string) => zone.split("/").at(-1)?.replaceAll("_", " ") ?? zone;

export function relative(at: string, now: number): string {
  const ms = now - new Date(at).getTime();
  const ago = ms >= 0;
  const minutes = Math.round(Math.abs(ms) / 60_000);
  const words =
    minutes < 1
      ? "moments"
      : minutes < 60
        ? `${minutes} min`
        : minutes < 48 * 60
          ? `${Math.round(minutes / 60)} h`
          : `${Math.round(minutes / 1440)} days`;
  return ago ? `${words} ago` : `in ${words}`;
}

/** 12 MB; what is smaller is said in smaller units. */
export function bytesWords(bytes: number): string {
  const units = ["bytes", "kB", "MB", "GB", "TB"];
  let value = bytes;
  let unit = 0;
  while (value >= 1000 && unit < units.length - 1) {
    value /= 1000;
    unit++;
  }
  return `${value >= 100 || unit === 0 ? Math.round(value) : value.toFixed(1)} ${units[unit]}`;
}
