import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { type Said, type Source, StreamHub, type Told } from "./streamHub";

class FakeSource implements Source {
  onopen: (() => void) | null = null;
  onerror: (() => void) | null = null;
  closed = false;
  private readonly heard = new Map<string, (event: { data: string; lastEventId: string }) => void>();
  constructor(readonly address: string) {}
  addEventListener(topic: string, heard: (event: { data: string; lastEventId: string }) => void) {
    this.heard.set(topic, heard);
  }
  close() {
    this.closed = true;
  }
  tell(topic: string, data: unknown, lastEventId = "") {
    this.heard.get(topic)?.({ data: JSON.stringify(data), lastEventId });
  }
}

let sources: FakeSource[] = [];
const latest = () => sources[sources.length - 1];

function hub() {
  const made = new StreamHub(
    (address) => {
      const source = new FakeSource(address);
      sources.push(source);
      return source;
    },
    ["run.changed", "log.lines", "log.try", "log.end"],
  );
  const tab = () => {
    const told: Told[] = [];
    const say = made.add({ postMessage: (each) => told.push(each) });
    const here = (visible: boolean, logs: { run: number; at: number }[] = []) =>
      say({ kind: "here", visible, logs } satisfies Said);
    return { told, say, here, events: () => told.filter((each) => each.kind === "event") };
  };
  return { tab };
}

beforeEach(() => {
  vi.useFakeTimers();
  sources = [];
});
afterEach(() => vi.useRealTimers());

describe("The stream of a browser", () => {
  it("is one for ten tabs, and every one of them is told", () => {
    const { tab } = hub();
    const tabs = Array.from({ length: 10 }, tab);
    for (const each of tabs) each.here(true);
    expect(sources).toHaveLength(1);
    latest().onopen?.();
    latest().tell("run.changed", { run: 7 }, "31");
    for (const each of tabs) {
      expect(each.events()).toEqual([{ kind: "event", topic: "run.changed", data: { run: 7 } }]);
      expect(each.told.some((told) => told.kind === "state" && told.live)).toBe(true);
    }
  });

  it("is shut while no tab is in sight, and goes on from where it was when one is again", () => {
    const { tab } = hub();
    const one = tab();
    one.here(true);
    latest().onopen?.();
    latest().tell("run.changed", { run: 7 }, "31");
    one.here(false);
    vi.advanceTimersByTime(4_000);
    expect(latest().closed).toBe(false);
    vi.advanceTimersByTime(2_000);
    expect(latest().closed).toBe(true);
    expect(one.told.at(-1)).toMatchObject({ kind: "state", live: false });
    one.here(true);
    expect(sources).toHaveLength(2);
    expect(latest().address).toBe("/api/v1/events?after=31");
  });

  it("forgets tabs that went without a word", () => {
    const { tab } = hub();
    const gone = tab();
    const stays = tab();
    gone.here(true, [{ run: 3, at: 0 }]);
    stays.here(true);
    expect(latest().address).toContain("log=3%400");
    vi.advanceTimersByTime(61_000);
    stays.here(true);
    expect(latest().address).not.toContain("log=");
    stays.say({ kind: "bye" });
    vi.advanceTimersByTime(6_000);
    expect(latest().closed).toBe(true);
  });

  it("tries again after a pause that grows, and at once when somebody has signed in", () => {
    const { tab } = hub();
    const one = tab();
    one.here(true);
    for (const pause of [1_000, 2_000, 5_000]) {
      const before = sources.length;
      latest().onerror?.();
      vi.advanceTimersByTime(pause - 1);
      expect(sources).toHaveLength(before);
      vi.advanceTimersByTime(1);
      expect(sources).toHaveLength(before + 1);
    }
    latest().onerror?.();
    const before = sources.length;
    one.say({ kind: "again" });
    expect(sources).toHaveLength(before + 1);
  });

  it("carries the logs that tabs follow, to those alone, and goes on from what has come", () => {
    const { tab } = hub();
    const reader = tab();
    const other = tab();
    reader.here(true, [{ run: 12, at: 100 }]);
    other.here(true);
    expect(latest().address).toBe("/api/v1/events?log=12%40100");
    latest().tell("log.lines", { run: 12, text: "a\n", from: 100, to: 102 });
    expect(reader.events()).toHaveLength(1);
    expect(other.events()).toHaveLength(0);
    latest().onerror?.();
    vi.advanceTimersByTime(1_000);
    expect(latest().address).toBe("/api/v1/events?log=12%40102");
    latest().tell("log.try", { run: 12, attempt: 2 });
    latest().onerror?.();
    vi.advanceTimersByTime(2_000);
    expect(latest().address).toBe("/api/v1/events?log=12%400");
  });
});
