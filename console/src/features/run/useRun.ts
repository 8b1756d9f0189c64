import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { call, get } from "../../api/client";
import type { Run, RunDetail } from "../../api/types";

export function useRun(number: string) {
  return useQuery({
    queryKey: ["run", number],
    queryFn: () => get<RunDetail>(`/api/v1/runs/${encodeURIComponent(number)}`),
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
