import { describe, expect, it } from "vitest";
import type { ChainStep } from "./model";
import { unfold } from "./unfold";

function step(name: string, after: string[], more: Partial<ChainStep> = {}): ChainStep {
  const links = after.map((each) => ({ after: each, on: "success" }));
  const plain = { kind: "job", does: `runs ${name}`, linksInWords: "", last: false, matters: true, goesOn: false };
  return { step: name, ...plain, links, ...more };
}

const links = (steps: ChainStep[]) =>
  steps.map(({ step, links }) => `${step} after ${links.map(({ after, on }) => `${after} on ${on}`).join(", ")}`);

describe("a nested chain", () => {
  it("stands in the place of its step, between what that follows and what follows that", () => {
    const outer = [step("a", []), step("close", ["a"]), step("z", ["close"])];
    const nested = [step("b", []), step("c", ["b"]), step("d", ["b"]), step("tidy", [], { last: true })];
    expect(links(unfold(outer, "close", nested))).toEqual([
      "a after ",
      "close › b after a on success",
      "close › c after close › b on success",
      "close › d after close › b on success",
      "close › tidy after close › c on any, close › d on any",
      "z after close › tidy on success",
    ]);
  });

  it("may follow another, hold another, and one that has no steps stays folded", () => {
    const outer = [step("one", []), step("two", ["one"]), step("three", ["two"])];
    const once = unfold(unfold(unfold(outer, "one", [step("b", [])]), "two", [step("b", [])]), "three", []);
    expect(links(unfold(once, "two › b", [step("c", []), step("d", ["c"])]))).toEqual([
      "one › b after ",
      "two › b › c after one › b on success",
      "two › b › d after two › b › c on success",
      "three after two › b › d on success",
    ]);
  });
});
