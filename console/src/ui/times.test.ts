import { describe, expect, it } from "vitest";
import { ticks } from "../features/today/ticks";
import { clock, dayAndClock, durationWords, millis, relative, withinMinute, zoneName } from "./times";

describe("Times as people read them", () => {
  it("read ISO 8601 durations", () => {
    expect(millis("PT1H2M3.5S")).toBe(3_723_500);
    expect(millis("P1DT1S")).toBe(86_401_000);
    expect(millis("nonsense")).toBe(0);
  });

  it("say durations as the command line does", () => {
    expect([420, 59_000, 185_000, 750_000, 7_800_000].map(durationWords)).toEqual([
      "0.4 s",
      "59 s",
      "3 min 5 s",
      "12 min",
      "2 h 10 min",
    ]);
  });

  it("stay at the local time of their zone when summer time begins", () => {
    expect(clock("2026-03-28T05:40:00Z", "Europe/Oslo")).toBe("06:40");
    expect(clock("2026-03-29T05:40:00Z", "Europe/Oslo")).toBe("07:40");
    expect(dayAndClock("2026-11-23T13:32:00Z", "Europe/Oslo")).toBe("Mon 23 Nov 14:32");
    expect(dayAndClock("2026-11-23T13:32:05Z", "Europe/Oslo", withinMinute("2026-11-23T13:32:05Z"))).toBe(
      "Mon 23 Nov 14:32:05",
    );
    expect(zoneName("America/New_York")).toBe("New York");
  });

  it("are told from now", () => {
    const now = Date.parse("2026-11-23T12:00:00Z");
    expect(relative("2026-11-23T11:57:00Z", now)).toBe("3 min ago");
    expect(relative("2026-11-24T12:00:00Z", now)).toBe("in 24 h");
    expect(relative("2026-11-20T12:00:00Z", now)).toBe("3 days ago");
  });
});

describe("The marks of the board", () => {
  const from = Date.parse("2026-11-22T23:00:00Z");

  it("stand on even local times, no closer than there is room for", () => {
    const marks = ticks(from, from + 24 * 3_600_000, "Europe/Oslo", 900);
    expect(marks.map((mark) => mark.text)).toEqual([
      ...["00:00", "02:00", "04:00", "06:00", "08:00", "10:00", "12:00"],
      ...["14:00", "16:00", "18:00", "20:00", "22:00", "00:00"],
    ]);
    expect(ticks(from, from + 24 * 3_600_000, "Europe/Oslo", 250).length).toBeLessThan(5);
  });

  it("name the days of a week", () => {
    const week = ticks(from, from + 7 * 86_400_000, "Europe/Oslo", 900);
    expect(week.map((mark) => mark.text)).toContain("Mon 23");
  });
});
