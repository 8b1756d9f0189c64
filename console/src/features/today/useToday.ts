import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { call, get, withQuery } from "../../api/client";
import type { Board, Today } from "../../api/types";

/** How the day goes: from the last midnight, or from twelve hours ago where that is longer. */
export type Since = "night" | "midnight";

export function useToday(since: Since) {
  return useQuery({
    queryKey: ["today", since],
    queryFn: () => get<Today>(withQuery("/api/v1/today", { since })),
    refetchInterval: 60_000,
    placeholderData: keepPreviousData,
  });
}

/** The ribbon board of a span, both ends in milliseconds. */
export function useBoard(from: number, until: number) {
  const span = { from: new Date(from).toISOString(), until: new Date(until).toISOString() };
  return useQuery({
    queryKey: ["board", span],
    queryFn: () => get<Board>(withQuery("/api/v1/board", span)),
    placeholderData: keepPreviousData,
    refetchInterval: 60_000,
  });
}

/** Has something tried again that was set aside. */
export function useRetry() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ kind, id }: { kind: string; id: number }) => call("POST", `/api/v1/set-aside/${kind}/${id}/retry`),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["today"] }),
  });
}

/** Takes charge of a failure, or leaves it to others. */
export function useCharge() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ number, take }: { number: number; take: boolean }) =>
      call(take ? "PUT" : "DELETE", `/api/v1/runs/${number}/charge`),
    onSuccess: () => {
      queries.invalidateQueries({ queryKey: ["today"] });
      queries.invalidateQueries({ queryKey: ["run"] });
    },
  });
}
