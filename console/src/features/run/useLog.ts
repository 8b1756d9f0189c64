import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState, useSyncExternalStore } from "react";
import { get, withQuery } from "../../api/client";
import type { RunDetail } from "../../api/types";
import { allHits, type Hits } from "./logHits";
import { LogLines } from "./logLines";

/** The log of a run: its end at once, any other lines as they come into view, what is new as it comes. */
export function useLog(run: RunDetail) {
  const queries = useQueryClient();
  const number = run.number;
  const open = run.state === "running" || run.state === "waiting";
  const [log] = useState(
    () => new LogLines(number, undefined, () => queries.invalidateQueries({ queryKey: ["run", String(number)] })),
  );
  const [follow] = useState(open);
  useEffect(() => {
    log.open(follow);
    return () => log.close();
  }, [log, follow]);
  return { log, shown: useSyncExternalStore(log.subscribe, log.snapshot) };
}

const MOST = 10_000;

/** The lines that hold a text or look like errors, found by the service over all of the log. */
export function useLogHits(run: number, asked: { q?: string; errors?: boolean }, version: number) {
  return useQuery({
    queryKey: ["log-hits", run, asked, version],
    queryFn: ({ signal }) =>
      allHits(
        (from, limit) =>
          get<Hits>(
            withQuery(`/api/v1/runs/${run}/log/find`, { q: asked.q, errors: asked.errors ? "true" : "", from, limit }),
          ),
        MOST,
        signal,
      ),
    enabled: asked.errors === true || (asked.q ?? "").trim() !== "",
    placeholderData: keepPreviousData,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 60_000,
  });
}
