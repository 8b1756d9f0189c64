import { clock } from "../../ui/times";

const MINUTE = 60_000;
const STEPS = [15, 30, 60, 120, 240, 720, 1440].map((minutes) => minutes * MINUTE);

export type Tick = { at: number; text: string };

/** The marks of a time axis, on even local times, with no more of them than there is room for. */
export function ticks(from: number, until: number, zone: string, width: number): Tick[] {
  const room = Math.max(2, Math.floor(width / 62));
  const step = STEPS.find((each) => (until - from) / each <= room) ?? STEPS[STEPS.length - 1];
  const marks: Tick[] = [];
  for (let at = Math.ceil(from / (15 * MINUTE)) * 15 * MINUTE; at <= until; at += 15 * MINUTE) {
    const text = clock(at, zone);
    const [hours, minutes] = text.split(":").map(Number);
    if (((hours * 60 + minutes) * MINUTE) % step !== 0) continue;
    const day = step >= 720 * MINUTE && hours === 0;
    marks.push({
      at,
      text: day
        ? new Intl.DateTimeFormat("en-GB", { timeZone: zone, weekday: "short", day: "numeric" }).format(at)
        : text,
    });
  }
  return marks;
}
