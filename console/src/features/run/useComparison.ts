import { useQuery } from "@tanstack/react-query";
import { get, withQuery } from "../../api/client";
import type { Comparison, Run } from "../../api/types";

/** A run beside another; beside the good one before it where none is named. */
export function useComparison(run: Run, other: string) {
  return useQuery({
    queryKey: ["run", String(run.number), "comparison", other, run.state],
    queryFn: () => get<Comparison>(withQuery(`/api/v1/runs/${run.number}/comparison`, { with: other })),
    retry: false,
    placeholderData: (before) => before,
  });
}

/** What a run may be compared with: the latest of its job. */
export function useOthers(run: Run) {
  return useQuery({
    queryKey: ["runs", "others", run.job, run.cause === "sweep"],
    queryFn: () =>
      get<Run[]>(withQuery("/api/v1/runs", { job: run.job, limit: 40, rows: run.cause === "sweep" ? "yes" : "no" })),
  });
}

const LINES = 2_000;

/** The end of a run's log, and how many lines before it are left out. */
export function useLogEnd(run: Run, asked: boolean) {
  return useQuery({
    queryKey: ["run", String(run.number), "log-end"],
    queryFn: async () => {
      const end = await get<{ from: number; lines: string[] }>(
        withQuery(`/api/v1/runs/${run.number}/log/lines`, { from: -LINES, count: LINES }),
      );
      return { text: end.lines.join("\n"), before: end.from };
    },
    enabled: asked,
  });
}
