import { describe, expect, it } from "vitest";
import { ticks } from "../features/today/ticks";
import { isMoment } from "./MomentField";
import {
  bytesWords,
  clock,
  dayAndClock,
  durationWords,
  isoDuration,
  millis,
  relative,
  styled,
  withinMinute,
  zoneName,
} from "./times";

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

describe("What people type", () => {
  it.each([
    ["30 min", "PT1800S"],
    ["1 h 30 min", "PT5400S"],
    ["2 days and 4 hours", "PT187200S"],
    ["90s", "PT90S"],
    ["PT30M", "PT30M"],
    ["soon", "soon"],
    ["3 fortnights", "3 fortnights"],
  ])("as a length, %s, is sent as %s", (typed, sent) => expect(isoDuration(typed)).toBe(sent));

  it("as a day is one that there is, by ISO 8601", () => {
    for (const day of ["2026-11-23", "2028-02-29"]) expect(isMoment(day, true)).toBe(true);
    for (const none of ["23.11.2026", "2026-02-30", "11/23/2026", "2026-1-1"]) expect(isMoment(none, true)).toBe(false);
    expect(isMoment("2026-11-23 14:30")).toBe(true);
    expect(isMoment("2026-11-23T14:30")).toBe(true);
    expect(isMoment("2026-11-23 25:00")).toBe(false);
  });

  it("as a size is said in its unit", () => {
    expect(bytesWords(999)).toBe("999 bytes");
    expect(bytesWords(1_500)).toBe("1.5 kB");
    expect(bytesWords(252_000_000_000)).toBe("252 GB");
  });

  it("carries its year where that is another, and is ISO where somebody likes that", () => {
    const then = "2019-07-04T12:00:00Z";
    expect(styled(then, "UTC", "words")).toBe("Thu 4 Jul 2019 12:00");
    expect(styled(then, "Europe/Oslo", "iso")).toBe("2019-07-04 14:00");
  });
});
