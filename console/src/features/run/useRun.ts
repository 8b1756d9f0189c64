import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { call, get, withQuery } from "../../api/client";
import type { Item, ItemThen, Output, Run, RunDetail, Sweep, SweepRow, Why } from "../../api/types";

export function useRun(number: string) {
  return useQuery({
    queryKey: ["run", number],
    queryFn: () => get<RunDetail>(`/api/v1/runs/${encodeURIComponent(number)}`),
    enabled: number !== "",
    // what a run says of its progress comes as an event; the bar of a sweep is asked for
    refetchInterval: (query) => (query.state.data?.state === "running" ? 3_000 : false),
  });
}

/** Why it is there and for what it waits; asked again while it waits. */
export function useWhy(run: RunDetail) {
  return useQuery({
    queryKey: ["run", String(run.number), "why", run.state, run.waitingFor],
    queryFn: () => get<Why>(`/api/v1/runs/${run.number}/why`),
    // the rows of a sweep under way wait too
    refetchInterval: run.state === "waiting" || (run.state === "running" && run.kind === "sweep") ? 5_000 : false,
    placeholderData: (before) => before,
  });
}

/** Has the next try come at once, or gives it up. */
export function useNextTry(number: number) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (now: boolean) => call<RunDetail>(now ? "POST" : "DELETE", `/api/v1/runs/${number}/next-try`),
    onSettled: () => queries.invalidateQueries({ queryKey: ["run"] }),
  });
}

export function useCancel(number: number) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: () => call<RunDetail>("POST", `/api/v1/runs/${number}/cancellation`),
    onSettled: () => queries.invalidateQueries({ queryKey: ["run"] }),
  });
}

export function useRepeat(number: number) {
  const navigate = useNavigate();
  return useMutation({
    mutationFn: (failedRows: boolean) =>
      call<Run>("POST", withQuery(`/api/v1/runs/${number}/repeats`, { rows: failedRows ? "failed" : "" })),
    onSuccess: ({ body }) => navigate(`/runs/${body.number}`),
  });
}

export function useItems(run: RunDetail, state: string) {
  return useQuery({
    queryKey: ["run", String(run.number), "items", state, run.items],
    queryFn: () => get<Item[]>(withQuery(`/api/v1/runs/${run.number}/items`, { state, limit: 500 })),
  });
}

/** How items of the same names did in the runs before. */
export function useItemHistory(run: RunDetail) {
  return useQuery({
    queryKey: ["run", String(run.number), "item-history", run.state],
    queryFn: () => get<Record<string, ItemThen[]>>(`/api/v1/runs/${run.number}/items/history`),
  });
}

export function useOutputs(run: RunDetail) {
  return useQuery({
    queryKey: ["run", String(run.number), "outputs", run.state],
    queryFn: () => get<Output[]>(`/api/v1/runs/${run.number}/outputs`),
  });
}

/** How far a sweep is; asked again while it goes on. */
export function useSweep(run: RunDetail) {
  return useQuery({
    queryKey: ["run", String(run.number), "sweep"],
    queryFn: () => get<Sweep>(`/api/v1/runs/${run.number}/sweep`),
    refetchInterval: run.state === "running" ? 2_000 : false,
  });
}

export function useSweepRows(run: RunDetail, state: string, after: number) {
  return useQuery({
    queryKey: ["run", String(run.number), "rows", state, after, run.state],
    queryFn: () => call<SweepRow[]>("GET", withQuery(`/api/v1/runs/${run.number}/rows`, { state, after, limit: 50 })),
    refetchInterval: run.state === "running" ? 2_000 : false,
    placeholderData: (before) => before,
  });
}
