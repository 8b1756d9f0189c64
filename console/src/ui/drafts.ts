/** Unsaved texts, kept on this device a thing and a person each, and offered again. */
export type Draft = { text: string; base: string; at: number };

const PREFIX = "gantrel.draft:";
const OLDEST = 30 * 24 * 3_600_000;
const MOST = 40;

const keyOf = (person: string, thing: string) => `${PREFIX}${person}:${thing}`;

function stored(key: string): Draft | undefined {
  try {
    const draft = JSON.parse(localStorage.getItem(key) ?? "null") as Draft | null;
    return draft && typeof draft.text === "string" && typeof draft.at === "number" ? draft : undefined;
  } catch {
    return undefined;
  }
}

export function readDraft(person: string, thing: string): Draft | undefined {
  return stored(keyOf(person, thing));
}

export function dropDraft(person: string, thing: string) {
  localStorage.removeItem(keyOf(person, thing));
}

/** Keeps a draft; false where this device has no room for it. */
export function keepDraft(person: string, thing: string, draft: Draft): boolean {
  thin();
  try {
    localStorage.setItem(keyOf(person, thing), JSON.stringify(draft));
    return true;
  } catch {
    return false;
  }
}

/** Lets go of what is old, and of the oldest where there are many. */
function thin() {
  const all = Object.keys(localStorage)
    .filter((key) => key.startsWith(PREFIX))
    .map((key) => ({ key, at: stored(key)?.at ?? 0 }))
    .sort((a, b) => b.at - a.at);
  for (const [index, { key, at }] of all.entries()) {
    if (index >= MOST || Date.now() - at > OLDEST) localStorage.removeItem(key);
  }
}
