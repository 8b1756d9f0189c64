import { describe, expect, it } from "vitest";
import { beside, layOut, NODE } from "./layout";
import type { ChainStep } from "./model";
import { chainSvg } from "./svg";

function step(name: string, links: [string, string][], last = false): ChainStep {
  return {
    step: name,
    kind: "job",
    job: name,
    links: links.map(([after, on]) => ({ after, on })),
    linksInWords: "",
    does: `runs ${name}`,
    last,
    matters: true,
    goesOn: false,
  };
}

const NIGHT = [
  step("settle", []),
  step("hold", [["settle", "failure"]]),
  step("report", [
    ["settle", "success"],
    ["hold", "success"],
  ]),
  step("tidy", [], true),
];

describe("the picture of a chain", () => {
  it("goes from left to right, and nothing lies upon another", () => {
    const { nodes, arrows } = layOut(NIGHT);
    const at = Object.fromEntries(nodes.map((node) => [node.step.step, node]));
    expect(arrows.map((arrow) => `${arrow.from}>${arrow.to} ${arrow.on}`)).toEqual([
      "settle>hold failure",
      "settle>report success",
      "hold>report success",
      "report>tidy end",
    ]);
    for (const arrow of arrows) expect(at[arrow.from].x + NODE.width).toBeLessThan(at[arrow.to].x);
    for (const one of nodes)
      for (const other of nodes)
        expect(
          one === other ||
            Math.abs(one.x - other.x) >= NODE.width ||
            Math.abs(one.y - other.y) >= NODE.height ||
            one.step.step,
        ).toBe(true);
  });

  it("lays out two hundred steps", () => {
    const many = Array.from({ length: 200 }, (_, i) => step(`s${i}`, i < 10 ? [] : [[`s${i - 10}`, "success"]]));
    expect(layOut(many).nodes).toHaveLength(200);
  });

  it("keeps what is placed while the places of a change are worked out, and puts what is new beside", () => {
    const before = layOut(NIGHT);
    const more = [
      ...NIGHT,
      step("next", [["report", "success"]]),
      step("other", [["report", "success"]]),
      step("lone", []),
    ];
    const now = beside(before, more);
    const at = Object.fromEntries(now.nodes.map((node) => [node.step.step, node]));
    for (const { step: known, x, y } of before.nodes) expect(at[known.step]).toMatchObject({ x, y });
    expect(at.next.x).toBeGreaterThan(at.report.x);
    expect(new Set(now.nodes.map(({ x, y }) => `${x} ${y}`)).size).toBe(more.length);
    expect(now.arrows.map((arrow) => arrow.id)).toContain("report>next#0");
    for (const arrow of now.arrows) expect(arrow.points.length).toBeGreaterThan(1);
    expect(beside(now, NIGHT.slice(0, 2)).arrows).toHaveLength(1);
  });

  it("can be taken away as SVG, and no name becomes part of it", () => {
    const svg = chainSvg(layOut([step("a", []), { ...step("b", [["a", "any"]]), does: "<script>&" }]), []);
    expect(svg).toContain("<svg xmlns=");
    expect(svg).not.toContain("<script>");
    expect(svg).toContain("&lt;script&gt;&amp;");
    expect(svg).toContain("on any");
  });
});
