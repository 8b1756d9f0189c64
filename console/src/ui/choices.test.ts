import { afterEach, expect, it, vi } from "vitest";
import { type Answer, call } from "../api/client";
import { choice, choiceName, choose, takeChoices } from "./choices";

vi.mock("../api/client", () => ({ call: vi.fn() }));

const device = new Map<string, string>();
vi.stubGlobal("localStorage", {
  getItem: (key: string) => device.get(key) ?? null,
  removeItem: (key: string) => device.delete(key),
});

afterEach(() => {
  device.clear();
  takeChoices({ name: "nobody", choices: {} });
});

it("holds what the account says, before what an older console left on the device", () => {
  device.set("gantrel.dates", "iso");
  expect(choice("dates")).toBe("iso");
  takeChoices({ name: "mara", choices: { dates: "words" } });
  expect(choice("dates")).toBe("words");
});

it("shows at once what was chosen, also while the service answers with what it had", async () => {
  let answer = (_: Answer<unknown>) => {};
  const kept = new Promise<Answer<unknown>>((resolve) => {
    answer = resolve;
  });
  vi.mocked(call).mockReturnValueOnce(kept);
  takeChoices({ name: "mara", choices: { today: "night" } });
  const done = choose("today", "midnight");
  takeChoices({ name: "mara", choices: { today: "night" } });
  expect(choice("today")).toBe("midnight");
  answer({ body: { today: "midnight" } } as Answer<unknown>);
  await done;
  expect(choice("today")).toBe("midnight");
  takeChoices({ name: "mara", choices: { today: "night" } });
  expect(choice("today")).toBe("night");
});

it("keeps a choice while the page is there where the service does not, and gives it to nobody else", async () => {
  vi.mocked(call).mockRejectedValueOnce(new Error("away"));
  takeChoices({ name: "mara", choices: {} });
  await choose("dates", "iso");
  expect(choice("dates")).toBe("iso");
  takeChoices({ name: "ivo", choices: {} });
  expect(choice("dates")).toBeUndefined();
});

it("makes names that the service takes", () => {
  expect(choiceName("columns:Coming starts")).toBe("columns:coming-starts");
  expect(choiceName(` Ünter ${"x".repeat(90)}`)).toMatch(/^[a-z0-9][a-z0-9.:-]{0,79}$/);
});
