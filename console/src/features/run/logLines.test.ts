import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

type Heard = (topic: string, data: unknown) => void;

let hear: Heard = () => {};
const followed: [number, number][] = [];
vi.mock("../../api/stream", () => ({
  onTold: (listener: Heard) => {
    hear = listener;
    return () => {};
  },
  followLog: (run: number, at: number) => {
    followed.push([run, at]);
    return () => {};
  },
}));

const { BLOCK, LogLines } = await import("./logLines");

/** A log in the service, as its lines are asked for. */
let service: string[] = [];
const asked: string[] = [];

beforeEach(() => {
  vi.useFakeTimers();
  followed.length = 0;
  asked.length = 0;
  vi.stubGlobal("fetch", async (path: string) => {
    asked.push(path);
    const query = new URLSearchParams(path.split("?")[1]);
    const from = Number(query.get("from"));
    const first = Math.max(0, from < 0 ? service.length + from : from);
    const lines = service.slice(first, first + Number(query.get("count")));
    const bytes = service.join("\n").length + 1;
    return new Response(JSON.stringify({ attempt: 1, from: first, total: service.length, bytes, lines }));
  });
});
afterEach(() => {
  vi.unstubAllGlobals();
  vi.useRealTimers();
});

const settle = () => vi.advanceTimersByTimeAsync(100);

describe("The lines of a log", () => {
  it("begin with the end; others are asked for as they come into view, a block at a time", async () => {
    service = Array.from({ length: 1_800 }, (_, i) => `line ${i}`);
    const log = new LogLines(12, undefined, () => {});
    log.open(false);
    await settle();
    expect(log.snapshot()).toMatchObject({ total: 1_800, known: true, live: false });
    expect(log.line(1_799)).toBe("line 1799");
    expect(log.line(0)).toBeUndefined();
    log.want(0, 30);
    log.want(0, 40);
    await settle();
    expect(log.line(0)).toBe("line 0");
    expect(log.line(BLOCK - 1)).toBe(`line ${BLOCK - 1}`);
    // the end, the beginning of its first block, and the block in view: each once
    expect(asked).toHaveLength(3);
  });

  it("grow with what is told, in order, and are asked for anew where a piece is missing", async () => {
    service = ["one", "two"];
    let ended = false;
    const log = new LogLines(12, undefined, () => {
      ended = true;
    });
    log.open(true);
    await settle();
    expect(followed).toEqual([[12, 8]]);
    hear("log.lines", { run: 99, attempt: 1, text: "not mine\n", from: 8, to: 17 });
    hear("log.lines", { run: 12, attempt: 1, text: "three\nfour\n", from: 8, to: 19 });
    hear("log.lines", { run: 12, attempt: 1, text: "three\n", from: 8, to: 14 });
    await settle();
    expect(log.snapshot()).toMatchObject({ total: 4, live: true });
    expect(log.line(3)).toBe("four");
    service = ["one", "two", "three", "four", "five", "six"];
    hear("log.lines", { run: 12, attempt: 1, text: "six\n", from: 24, to: 28 });
    await settle();
    expect(log.snapshot().total).toBe(6);
    expect(log.line(4)).toBe("five");
    hear("log.end", { run: 12, state: "succeeded" });
    expect(ended).toBe(true);
    expect(log.snapshot().live).toBe(false);
  });

  it("that a busy service does not give are asked for again after a while, and not at every turn", async () => {
    service = Array.from({ length: 1_800 }, (_, i) => `line ${i}`);
    const log = new LogLines(12, undefined, () => {});
    log.open(false);
    await settle();
    const given = globalThis.fetch;
    let busy = 0;
    vi.stubGlobal("fetch", async () => {
      busy++;
      return new Response('{"detail":"already 6 logs are read"}', { status: 429 });
    });
    log.subscribe(() => log.want(0, 30));
    log.want(0, 30);
    await settle();
    expect(busy).toBe(1);
    expect(log.snapshot().error?.message).toContain("already 6");
    vi.stubGlobal("fetch", given);
    await vi.advanceTimersByTimeAsync(2_500);
    expect(log.line(0)).toBe("line 0");
    expect(log.snapshot().error).toBeUndefined();
  });

  it("begin anew with the next try", async () => {
    service = ["first try"];
    const log = new LogLines(12, undefined, () => {});
    log.open(true);
    await settle();
    service = [];
    hear("log.try", { run: 12, attempt: 2 });
    await settle();
    expect(log.snapshot().total).toBe(0);
  });
});
