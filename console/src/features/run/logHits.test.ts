import { describe, expect, it } from "vitest";
import { allHits } from "./logHits";

/** A service that looks through a few lines a call, and finds every seventh. */
function service(total: number, patience: number) {
  let calls = 0;
  const part = async (from: number, limit: number) => {
    calls++;
    const lines: number[] = [];
    for (let line = from; line < total; line++) {
      if (lines.length >= limit || line - from >= patience) return { lines, next: line };
      if (line % 7 === 0) lines.push(line);
    }
    return { lines, next: null };
  };
  return { part, calls: () => calls };
}

describe("what is found in a log", () => {
  it("is all of it, in however many parts the service looks", async () => {
    const wanted = Array.from({ length: 1_000 }, (_, line) => line).filter((line) => line % 7 === 0);
    for (const patience of [1, 3, 7, 100, 10_000]) {
      const found = await allHits(service(1_000, patience).part, 10_000, { aborted: false });
      expect(found).toEqual({ lines: wanted, next: null });
    }
  });

  it("is no more than was asked for, and says that there is more", async () => {
    const found = await allHits(service(1_000, 10).part, 20, { aborted: false });
    expect(found.lines).toHaveLength(20);
    expect(found.next).toBeLessThan(1_000);
  });

  it("is looked for no longer than somebody wants to know", async () => {
    const leave = { aborted: false };
    const { part, calls } = service(1_000, 10);
    const asked = (from: number, limit: number) => {
      leave.aborted = from >= 50;
      return part(from, limit);
    };
    await allHits(asked, 10_000, leave);
    expect(calls()).toBe(6);
  });
});
