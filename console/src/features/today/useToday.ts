import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { call, get, withQuery } from "../../api/client";
import type { Board, ComingStart, Deadline, Forecast, Today } from "../../api/types";

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

/** What the forecast says of the starts on the board, by job and planned time, and which of them, or which runs, will be late. */
export type Foreseen = { starts: Map<string, ComingStart>; late: Set<string> };

export const startKey = (job: string, at: string) => `${job} ${new Date(at).getTime()}`;

export const riskKey = (deadline: Deadline) =>
  deadline.run ? `run ${deadline.run}` : startKey(deadline.job, deadline.plannedAt);

/** Of more starts than this each stands at its planned time: nobody could tell them apart, and all who look would ask for them. */
const MOST_FORESEEN = 1_000;

/** The forecast until an instant in milliseconds. @param coming how many starts are shown that are to come */
export function useForeseen(until: number, coming: number, deadlines: Deadline[]): Foreseen {
  const ahead = useQuery({
    queryKey: ["board", "foreseen", until],
    queryFn: () =>
      get<Forecast>(
        withQuery("/api/v1/forecast", { from: new Date().toISOString(), until: new Date(until).toISOString() }),
      ),
    enabled: coming > 0 && coming <= MOST_FORESEEN,
    placeholderData: keepPreviousData,
    refetchInterval: 60_000,
  });
  return {
    starts: new Map((ahead.data?.starts ?? []).map((start) => [startKey(start.job, start.at), start])),
    late: new Set(deadlines.filter((each) => each.state === "at-risk").map(riskKey)),
  };
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
