import { describe, expect, it } from "vitest";
import { readBuilt, writeBuilt } from "./builder";

describe("the builder of schedules", () => {
  it.each([
    ["every day at 02:30", "daily"],
    ["every working day at 07:00 and 19:30", "daily"],
    ["every Monday, Wednesday and Friday at 06:45", "weekly"],
    ["day 15 of every month at 10:00", "monthly"],
    ["last day of every month at 23:00", "monthly"],
    ["3 days before the last day of every month at 09:00", "monthly"],
    ["third working day of every month at 22:00", "nth"],
    ["last Friday of every quarter at 17:00", "nth"],
    ["every 15 minutes between 06:00 and 22:00", "steps"],
    ["every hour", "steps"],
    ["45 6 * * 1-5", "own"],
    ["every 2 weeks on Monday at 06:00 from 2026-11-23", "own"],
  ])("keeps %s in step as %s", (text, form) => {
    const built = readBuilt(text);
    expect(built.form).toBe(form);
    expect(writeBuilt(built)).toBe(text);
  });

  it("goes from one form to another with what it has", () => {
    const built = readBuilt("every Monday at 06:45");
    expect(writeBuilt({ ...built, form: "daily" })).toBe("every day at 06:45");
    expect(writeBuilt({ ...built, form: "nth" })).toBe("first Monday of every month at 06:45");
    expect(writeBuilt({ ...built, days: ["Sunday", "Tuesday"] })).toBe("every Tuesday and Sunday at 06:45");
  });

  it("falls back on something that can be read where a field is empty", () => {
    const built = readBuilt("");
    expect(built.form).toBe("own");
    expect(writeBuilt({ ...built, form: "weekly" })).toBe("every Monday at 02:30");
    expect(writeBuilt({ ...built, form: "daily" })).toBe("every day at 02:30");
    expect(writeBuilt({ ...built, form: "nth" })).toBe("first working day of every month at 02:30");
    expect(writeBuilt({ ...built, form: "steps", step: "1", unit: "hours" })).toBe("every hour");
    expect(writeBuilt({ ...built, form: "steps", from: "06:00" })).toBe("every 15 minutes");
  });

  it("does not take words for a form that only look like one", () => {
    for (const text of [
      "every Monday",
      "every day at 2:30",
      "day 1 and 15 of every month at 06:00",
      "every weekday at 06:45 in January",
      "last Friday of January at 17:00",
    ]) {
      expect(readBuilt(text).form).toBe("own");
      expect(writeBuilt(readBuilt(text))).toBe(text);
    }
  });
});
