import { describe, expect, it } from "vitest";
import { newCalendar, toggleDay } from "./calendarDraft";

describe("a draft of a calendar", () => {
  const written = newCalendar("finance");

  it("closes an open day and opens it again, and is then as it was", () => {
    const closed = toggleDay(written, "2027-05-17", true, "Constitution Day");
    expect(closed).toContain("- { on: 2027-05-17, label: Constitution Day }");
    expect(toggleDay(closed, "2027-05-17", false, "")).not.toContain("2027-05-17");
  });

  it("opens a day that is closed by its weekday", () => {
    const opened = toggleDay(written, "2027-05-16", false, "");
    expect(opened).toContain("open:");
    expect(opened).toContain("{ on: 2027-05-16 }");
  });
});
