import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { call, withQuery } from "../../api/client";
import type { Run } from "../../api/types";

/** What is looked for; it stands in the address, so that a view can be sent to a colleague. */
export type Filter = {
  q: string;
  job: string;
  team: string;
  state: string;
  cause: string;
  since: string;
  rows: string;
  sort: string;
  after: string;
};

export const FILTER_NAMES: (keyof Filter)[] = ["q", "job", "team", "state", "cause", "since", "rows", "sort", "after"];

const HOURS: Record<string, number> = { "1h": 1, "12h": 12, "1d": 24, "7d": 168, "31d": 744 };

function sinceInstant(since: string): string {
  if (!since) return "";
  const hours = HOURS[since];
  if (!hours) return since;
  // to the minute, so that asking twice asks for the same
  return new Date(Math.floor((Date.now() - hours * 3_600_000) / 60_000) * 60_000).toISOString();
}

export function useHistory(filter: Filter, limit: number) {
  return useQuery({
    queryKey: ["runs", filter, limit],
    queryFn: () =>
      call<Run[]>(
        "GET",
        withQuery("/api/v1/runs", {
          ...filter,
          since: sinceInstant(filter.since),
          // the rows of a sweep are shown under it, unless somebody looks for them
          rows: filter.rows || (filter.cause === "sweep" ? "yes" : "no"),
          limit,
        }),
      ),
    placeholderData: keepPreviousData,
  });
}
