import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { call, get, withQuery } from "../../api/client";
import type { Item, Output, Run, RunDetail, Sweep, SweepRow } from "../../api/types";

export function useRun(number: string) {
  return useQuery({
    queryKey: ["run", number],
    queryFn: () => get<RunDetail>(`/api/v1/runs/${encodeURIComponent(number)}`),
    enabled: number !== "",
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
    mutationFn: () => call<Run>("POST", `/api/v1/runs/${number}/repeats`),
    onSuccess: ({ body }) => navigate(`/runs/${body.number}`),
  });
}

export function useItems(run: RunDetail, state: string) {
  return useQuery({
    queryKey: ["run", String(run.number), "items", state, run.items],
    queryFn: () => get<Item[]>(withQuery(`/api/v1/runs/${run.number}/items`, { state, limit: 500 })),
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
