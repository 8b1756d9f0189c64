import { describe, expect, it } from "vitest";
import { readSchedule, removeSchedule, writeSchedule } from "./scheduleDraft";

const DEFINITION = `task: settle
team: revenue
does: { command: [ ./settle.sh ] }
schedules:
  # after the last sailing
  - { name: nightly, when: every day at 02:30, zone: Europe/Oslo, with: { route: sound } }
`;

describe("a draft of a schedule", () => {
  it("is read from a definition and written back, comments and values kept", () => {
    const draft = readSchedule(DEFINITION, "nightly");
    expect(draft?.when).toBe("every day at 02:30");
    if (!draft) return;
    const changed = writeSchedule(DEFINITION, "nightly", { ...draft, calendar: "sailing-days", shift: "following" });
    expect(changed).toContain("# after the last sailing");
    expect(changed).toContain("with: { route: sound }");
    expect(readSchedule(changed, "nightly")).toMatchObject({ calendar: "sailing-days", shift: "following" });
  });

  it("is added beside others or as the first, and taken out again", () => {
    const empty = { calendar: "", except: "", shift: "", window: "", from: "", until: "" };
    const fresh = { name: "noon", when: "0 12 * * *", zone: "UTC", ...empty };
    const added = writeSchedule(DEFINITION, "noon", fresh);
    expect(readSchedule(added, "nightly")).toBeDefined();
    expect(readSchedule(added, "noon")).toMatchObject({ when: "0 12 * * *" });
    const none = removeSchedule(removeSchedule(added, "noon"), "nightly");
    expect(none).not.toContain("schedules");
    expect(readSchedule(writeSchedule(none, "noon", fresh), "noon")?.zone).toBe("UTC");
  });
});
