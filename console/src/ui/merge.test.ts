import { afterEach, describe, expect, it, vi } from "vitest";
import { dropDraft, keepDraft, readDraft } from "./drafts";
import { mineOnTheirs } from "./merge";

const BASE = "task: count\nteam: revenue\nabout: Counts\ndoes: { shell: count }\n";

describe("Two people's changes to a text", () => {
  it("come together where they are in different places", () => {
    const mine = BASE.replace("about: Counts", "about: Counts boats");
    const theirs = BASE.replace("team: revenue", "team: fleet");
    const { text, clashes } = mineOnTheirs(mine, BASE, theirs);
    expect(text).toBe("task: count\nteam: fleet\nabout: Counts boats\ndoes: { shell: count }\n");
    expect(clashes).toBe(0);
  });

  it("leave mine where both changed the same lines, and say how often", () => {
    const mine = BASE.replace("Counts", "Counts boats");
    const theirs = BASE.replace("Counts", "Counts cars");
    expect(mineOnTheirs(mine, BASE, theirs)).toEqual({ text: mine, clashes: 1 });
    expect(mineOnTheirs(mine, BASE, mine)).toEqual({ text: mine, clashes: 0 });
  });
});

describe("Drafts on this device", () => {
  const stored = new Map<string, string>();
  const storage = new Proxy({} as Record<string, unknown>, {
    get: (_, name) =>
      ({
        getItem: (key: string) => stored.get(key) ?? null,
        removeItem: (key: string) => stored.delete(key),
        setItem: (key: string, value: string) => {
          if (value.length > 5_000) throw new Error("no room");
          stored.set(key, value);
        },
      })[String(name)],
    ownKeys: () => [...stored.keys()],
    getOwnPropertyDescriptor: () => ({ enumerable: true, configurable: true }),
  });
  afterEach(() => {
    stored.clear();
    vi.unstubAllGlobals();
  });

  it("are a person's own, and go with a save", () => {
    vi.stubGlobal("localStorage", storage);
    expect(keepDraft("mara", "job count", { text: "new", base: "old", at: Date.now() })).toBe(true);
    expect(readDraft("mara", "job count")?.text).toBe("new");
    expect(readDraft("ivo", "job count")).toBeUndefined();
    dropDraft("mara", "job count");
    expect(readDraft("mara", "job count")).toBeUndefined();
  });

  it("are told of where there is no room, go when they are old or many, and are never read broken", () => {
    vi.stubGlobal("localStorage", storage);
    expect(keepDraft("mara", "job long", { text: "x".repeat(9_000), base: "", at: 1 })).toBe(false);
    keepDraft("mara", "job old", { text: "old", base: "", at: Date.now() - 40 * 86_400_000 });
    for (let i = 0; i < 60; i++) keepDraft("mara", `job ${i}`, { text: "t", base: "", at: Date.now() + i });
    expect(readDraft("mara", "job old")).toBeUndefined();
    expect(stored.size).toBeLessThanOrEqual(41);
    expect(readDraft("mara", "job 59")).toBeDefined();
    stored.set("gantrel.draft:mara:job broken", "{");
    expect(readDraft("mara", "job broken")).toBeUndefined();
  });
});
