import { describe, expect, it } from "vitest";
import type { ComingStart } from "../../api/types";
import { compared, inWords, KINDS, supposition, withOne } from "./supposing";

const start = (job: string, ends?: string, late?: string, stuck?: string): ComingStart =>
  ({
    job,
    schedule: "nightly",
    at: "2026-11-28T01:00:00Z",
    ends: ends && `2026-11-28T${ends}:00Z`,
    late,
    stuck,
    deadline: "2026-11-28T05:30:00Z",
  }) as ComingStart;

const spanned = (starts: ComingStart[]) => ({ from: "2026-11-28T00:00:00Z", until: "2026-11-29T00:00:00Z", starts });

describe("what is supposed", () => {
  it("is written as the service reads it, once of each, and told in words", () => {
    const [lane, duration, schedule, places] = KINDS;
    let all = withOne([], supposition(lane, " cards ", "2"));
    all = withOne(all, supposition(schedule, "settle/nightly", "every day at 03:00 = early"));
    all = withOne(all, supposition(lane, "cards", "3"));
    all = withOne(all, supposition(places, "ignored", "1"));
    all = withOne(all, supposition(duration, "settle", "45 min"));
    expect(all).toEqual([
      "schedule.settle/nightly=every day at 03:00 = early",
      "lane.cards=3",
      "places=1",
      "duration.settle=45 min",
    ]);
    expect(all.map(inWords)).toEqual([
      "settle/nightly is every day at 03:00 = early",
      "lane cards is 3 wide",
      "the service has 1 place",
      "settle takes 45 min",
    ]);
  });

  it("is compared with what will be without it", () => {
    const before = [start("one", "05:45", "PT15M"), start("two", "02:00"), start("three"), start("five", "03:00")];
    const then = [
      start("one", "05:15"),
      start("two", "02:20"),
      start("three", "04:00"),
      start("four", "04:00"),
      start("five", undefined, undefined, "it waits for a lane"),
    ];
    const by = compared(spanned(then), spanned(before));
    expect(then.map((each) => by.words(each))).toEqual([
      "30 min earlier, in time",
      "20 min later",
      "it had none",
      "only then",
      "it had an end",
    ]);
    expect(by.shift(then[0])).toBe(-1_800_000);
    expect(by.shift(then[2])).toBeUndefined();
    expect(by.sentence()).toBe("With that 1 ends earlier, 1 later, 1 comes only then, 1 will be late instead of 1");
    expect(compared(spanned([]), spanned(before)).sentence()).toBe(
      "With that 0 end earlier, 0 later, 4 fall away, 0 will be late instead of 1",
    );
  });

  it("is compared for the time that both forecasts have", () => {
    const early = { ...spanned([start("one", "02:00")]), until: "2026-11-28T01:00:00Z" };
    const late = { ...spanned([start("one", "03:00")]), from: "2026-11-28T01:00:01Z" };
    for (const [then, before] of [
      [early, spanned([])],
      [late, spanned([])],
      [spanned([]), late],
    ]) {
      const by = compared(then, before);
      expect(then.starts.map((each) => by.words(each)).join("")).toBe("");
      expect(by.sentence()).toBe("With that 0 end earlier, 0 later, 0 will be late instead of 0");
    }
  });
});
