import { describe, expect, it } from "vitest";
import {
  addLink,
  addStep,
  readChain,
  removeLink,
  removeStep,
  renameStep,
  setEnd,
  setStepField,
  setStepValues,
} from "./chainDraft";

/** A parameter as expressions name it. */
const DAY = "$" + "{day}";

const NIGHT = `chain: night-close # every night
team: revenue
steps:
  - { step: settle, job: settle-tickets, over: routes, with: { day: "${DAY}" } }
  - { step: report, job: report-sales }
  # when something is wrong
  - { step: hold, job: hold-payout, after: settle, on: failure }
finally:
  - { step: tidy, job: tidy-up }
`;

const said = (text: string) =>
  readChain(text)?.steps.map(
    (step) => `${step.step}: ${step.links.map((link) => `${link.after} ${link.on}`).join(", ") || "-"}`,
  );

describe("a chain's definition", () => {
  it("is read as it is meant", () => {
    expect(said(NIGHT)).toEqual(["settle: -", "report: settle success", "hold: settle failure", "tidy: -"]);
    expect(readChain(NIGHT)?.steps[0]).toMatchObject({ kind: "sweep", does: "runs settle-tickets over routes" });
    expect(readChain(NIGHT)?.steps[0].with).toBe(`day=${DAY}`);
    expect(readChain("task: a")).toBeUndefined();
    expect(readChain("chain: [")).toBeUndefined();
  });

  it("gets links and loses them, and keeps its comments", () => {
    const linked = addLink(NIGHT, "hold", "report");
    expect(said(linked)?.[1]).toBe("report: settle success, hold success");
    expect(linked).toContain("# every night");
    expect(linked).toContain("# when something is wrong");
    const mixed = setEnd(linked, "hold", "report", "any");
    expect(said(mixed)?.[1]).toBe("report: settle success, hold any");
    expect(mixed).toContain("{ step: hold, on: any }");
    expect(said(removeLink(mixed, "settle", "report"))?.[1]).toBe("report: hold any");
    expect(said(addLink(linked, "report", "report"))).toEqual(said(linked));
  });

  it("gets steps with a name of their own, and loses them without losing the way", () => {
    const { text, name } = addStep(NIGHT, "pause", "report");
    expect(name).toBe("pause-5");
    expect(said(text)?.at(3)).toBe("pause-5: report success");
    expect(said(removeStep(text, "report"))).toContain("pause-5: settle success");
    expect(addStep("chain: a\nteam: b\n", "job", "", true).text).toContain("finally:");
  });

  it("renames a step wherever it is spoken of", () => {
    expect(said(renameStep(NIGHT, "settle", "settle-all"))).toEqual([
      "settle-all: -",
      "report: settle-all success",
      "hold: settle-all failure",
      "tidy: -",
    ]);
  });

  it("takes fields and values", () => {
    const text = setStepValues(setStepField(NIGHT, "report", "priority", "7"), "report", `day=${DAY}\nroute = sound`);
    expect(text).toContain("priority: 7");
    expect(text).toMatch(/with: \{ day: "?\$\{day\}"?, route: sound \}/);
    expect(setStepField(text, "report", "priority", "")).not.toContain("priority");
  });

  it("has fields within fields, and lists, and leaves nothing empty behind", () => {
    let { text } = addStep(NIGHT, "approval", "settle");
    text = setStepField(renameStep(text, "approval-5", "sign"), "sign", "approval.by.role", "manager");
    text = setStepField(text, "sign", "approval.tells", "a@lowmarsh.example.org, b@lowmarsh.example.org");
    text = setStepField(text, "settle", "over", "{ rows-of: sign, that: failed }");
    text = setStepField(text, "settle", "repeat.times", "3");
    const step = (name: string) => readChain(text)?.steps.find((each) => each.step === name);
    expect(step("sign")?.fields["approval.by.role"]).toBe("manager");
    expect(step("sign")?.fields["approval.tells"]).toBe("a@lowmarsh.example.org, b@lowmarsh.example.org");
    expect(step("settle")?.fields.over).toBe("{ rows-of: sign, that: failed }");
    expect(step("settle")?.fields["repeat.times"]).toBe("3");
    text = setStepField(text, "settle", "repeat.times", "");
    expect(text).not.toContain("repeat");
  });

  it("reads after any edits what a fresh look at the text reads", () => {
    let seed = 7;
    const random = (most: number) => {
      seed = (seed * 48271) % 2147483647;
      return seed % most;
    };
    let text = NIGHT;
    for (let i = 0; i < 150; i++) {
      const names = readChain(text)?.steps.map((step) => step.step) ?? [];
      const one = names[random(names.length)];
      const other = names[random(names.length)];
      const edits = [
        () => addStep(text, ["job", "pause", "approval", "meeting"][random(4)], one, random(6) === 0).text,
        () => addLink(text, one, other),
        () => removeLink(text, one, other),
        () => setEnd(text, one, other, "failure"),
        () => (names.length > 4 ? removeStep(text, one) : text),
        () => renameStep(text, one, `s-${i}`),
        () => setStepField(text, one, "priority", String(random(9) + 1)),
        () => setStepField(text, one, "when", ["", "no", "05:30", "1.50", "a: b #c"][random(5)]),
        () => setStepValues(text, one, `n=${random(9)}\nday=2026-11-0${random(9)}`),
      ];
      text = edits[random(edits.length)]();
      expect(readChain(text)).toEqual(readChain(`${text}\n`));
    }
  });
});
