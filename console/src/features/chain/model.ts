import type { Run } from "../../api/types";

/** What leads to a step. */
export type ChainLink = { after: string; on: string; when?: string };

/** A step of a chain: of a job as it is defined, or of a run with what became of it. */
export type ChainStep = {
  step: string;
  kind: string;
  job?: string;
  over?: string;
  links: ChainLink[];
  linksInWords: string;
  when?: string;
  does: string;
  last: boolean;
  matters: boolean;
  goesOn: boolean;
  state?: string;
  message?: string;
  from?: string;
  until?: string;
  limit?: string;
  turn?: number;
  round?: number;
  person?: string;
  run?: Run;
  runs?: number[];
  waitedFor?: string;
  usual?: string;
  mayDecide?: boolean;
  /** The step that runs the chain which it belongs to, where that is unfolded. */
  within?: string;
};

/** How a chain's run goes. */
export type Course = {
  round: number;
  critical: string[];
  held?: { person: string; why?: string; since: string };
  interventions: { round: number; kind: string; step?: string; person: string; at: string; note?: string }[];
};

/** Whether a link was gone along: the step before ended so, and this one ran. */
export function wasTaken(link: ChainLink, step: ChainStep, steps: ChainStep[]): boolean {
  const before = steps.find((each) => each.step === link.after);
  const ran = step.state !== undefined && !["pending", "out-of-reach"].includes(step.state);
  return ran && before !== undefined && follows(link.on, before.state ?? "");
}

function follows(on: string, state: string): boolean {
  if (on === "any") return !["pending", "running", "waiting"].includes(state);
  if (on === "warnings") return state === "warned";
  if (on === "failure") return ["failed", "timed-out", "cancelled", "missed"].includes(state);
  return ["succeeded", "warned", "skipped"].includes(state);
}

/** What an arrow is labelled with; nothing for the usual one. */
export function linkLabel(link: ChainLink): string {
  const on = link.on === "success" ? "" : `on ${link.on}`;
  return [on, link.when ? `where ${link.when}` : ""].filter((part) => part !== "").join(" ");
}
