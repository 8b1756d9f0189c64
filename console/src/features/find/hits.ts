import type { PageEntry } from "../../ui/pagesList";

/** Something that was found: what it is called, what it is, and where it is opened. */
export type Hit = { id: string; name: string; about?: string; to: string };
export type HitGroup = { title: string; hits: Hit[] };

export const MOST_HITS = 6;

/** How well a text holds the words: 0 not at all; more where it begins with them. */
export function fitness(text: string, words: string[]): number {
  const lower = text.toLowerCase();
  if (!words.every((word) => lower.includes(word))) return 0;
  const [first = ""] = words;
  if (lower === words.join(" ")) return 4;
  if (lower.startsWith(first)) return 3;
  return new RegExp(`[^a-z0-9]${first.replace(/[^a-z0-9]/g, "\\$&")}`).test(lower) ? 2 : 1;
}

/** The things that fit, the best first; names count for more than what is said of them. */
export function best<T>(things: T[], words: string[], name: (thing: T) => string, about: (thing: T) => string): T[] {
  // with nothing asked for they stand as they always do
  if (words.length === 0) return things;
  return things
    .map((thing) => ({
      thing,
      much: fitness(name(thing), words) * 2 || Math.min(1, fitness(`${name(thing)} ${about(thing)}`, words)),
    }))
    .filter(({ much }) => much > 0)
    .sort((a, b) => b.much - a.much || name(a.thing).localeCompare(name(b.thing)))
    .slice(0, MOST_HITS)
    .map(({ thing }) => thing);
}

/** A run's number, where the text is one and nothing else. */
export function runNumber(text: string): string | undefined {
  return text.trim().match(/^(?:#|run )?(\d{1,15})$/i)?.[1];
}

/** What can be done from anywhere; what leads to a page that only administrators have is left out for others. */
export const ACTIONS: (PageEntry & { deed?: string })[] = [
  { to: "/new-job", name: "New job", deed: "define-jobs" },
  { to: "/new-job?chain", name: "New chain", deed: "define-jobs" },
  { to: "/new-calendar", name: "New calendar", deed: "define-calendars" },
  { to: "/holds?on=job", name: "Hold work", deed: "hold-work" },
  { to: "/history?state=failed,timed-out,missed&since=1d", name: "What failed in the last day" },
  { to: "/me", name: "Change my password" },
  { to: "/me", name: "Make a token" },
  { to: "/sign-out", name: "Sign out" },
];
