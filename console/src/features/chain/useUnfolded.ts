import { useQueries } from "@tanstack/react-query";
import { useState } from "react";
import { get } from "../../api/client";
import { useJobs } from "../jobs/useJobs";
import type { ChainStep } from "./model";
import { unfold } from "./unfold";

type Open = { name: string; path: string };

/** Where the steps of the chain that a step runs are: in its run once there is one. */
const pathOf = (step: ChainStep) =>
  step.run ? `/api/v1/runs/${step.run.number}` : `/api/v1/jobs/${encodeURIComponent(step.job ?? "")}`;

/** The steps of a chain, with those of nested chains that were unfolded in their places. */
export function useUnfolded(steps: ChainStep[], live: boolean) {
  const [open, setOpen] = useState<Open[]>([]);
  const chains = new Set((useJobs("", "").data ?? []).filter((job) => job.kind === "chain").map((job) => job.name));
  const asked = open.map(({ name, path }) => {
    const now = steps.find((step) => step.step === name);
    return { name, path: now ? pathOf(now) : path };
  });
  const found = useQueries({
    queries: asked.map(({ path }) => ({
      queryKey: ["unfolded", path],
      queryFn: () => get<{ steps?: ChainStep[] }>(path),
      refetchInterval: live ? 3_000 : (false as const),
    })),
  });
  let all = steps;
  asked.forEach(({ name }, index) => {
    all = unfold(all, name, found[index].data?.steps ?? []);
  });
  return {
    steps: all,
    open: open.map(({ name }) => name),
    /** Those that could be unfolded. */
    nested: all.filter((step) => step.kind === "job" && step.job !== undefined && chains.has(step.job)),
    unfold: (step: ChainStep) => setOpen((was) => [...was, { name: step.step, path: pathOf(step) }]),
    /** Folds a step up again, and what was unfolded within it. */
    fold: (name: string) =>
      setOpen((was) => was.filter((each) => each.name !== name && !each.name.startsWith(`${name} `))),
  };
}
