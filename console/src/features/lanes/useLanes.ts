import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { call, get, getAll, withQuery } from "../../api/client";
import type { Hold, Lane, LaneAhead, LaneDetail } from "../../api/types";
import { useSaveDefinition } from "../../api/useSaveDefinition";

export function useLanes() {
  return useQuery({ queryKey: ["lanes"], queryFn: () => get<Lane[]>("/api/v1/lanes"), refetchInterval: 15_000 });
}

/** A lane with the tag that an edit of it has to show. */
export function useLane(name: string) {
  return useQuery({
    queryKey: ["lanes", name],
    queryFn: () =>
      call<LaneDetail>("GET", `/api/v1/lanes/${encodeURIComponent(name)}`).then(({ body, tag }) => ({ ...body, tag })),
    refetchInterval: 15_000,
  });
}

export function useSaveLane(name: string) {
  return useSaveDefinition<LaneDetail>("lanes", name, ["lanes"]);
}

/** Widens, closes or opens a lane. */
export function useWorkLane(name: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ method, part, body }: { method: string; part: string; body?: unknown }) =>
      call<LaneDetail>(method, `/api/v1/lanes/${name}/${part}`, body),
    onSettled: () => queries.invalidateQueries({ queryKey: ["lanes"] }),
  });
}

/** What the lanes will hold in the hours to come, where something may be supposed. */
export function useLanesAhead(suppose: string[]) {
  return useQuery({
    queryKey: ["lanes", "ahead", suppose],
    queryFn: () => {
      const from = new Date();
      const until = new Date(from.getTime() + 24 * 3_600_000);
      const path = withQuery("/api/v1/forecast", { from: from.toISOString(), until: until.toISOString() });
      return get<{ lanes: LaneAhead[]; playedUntil?: string }>(
        path + suppose.map((each) => `&suppose=${encodeURIComponent(each)}`).join(""),
      );
    },
    placeholderData: (before) => before,
    refetchInterval: 60_000,
  });
}

/** What keeps a job from starting, now or later. */
export function useHoldsOf(job: string) {
  return useQuery({
    queryKey: ["holds", "of", job],
    queryFn: () => get<Hold[]>(withQuery("/api/v1/holds", { job })),
    refetchInterval: 30_000,
  });
}

export function useHolds(ended: boolean) {
  return useQuery({
    queryKey: ["holds", ended],
    queryFn: () =>
      // what holds is told whole; of what is over, the latest
      ended ? get<Hold[]>("/api/v1/holds?ended=true&limit=500") : getAll<Hold>("/api/v1/holds?limit=500"),
    refetchInterval: 30_000,
  });
}

export type NewHold = {
  on: string;
  name?: string;
  from?: string;
  until?: string;
  due: string;
  running: string;
  why: string;
};

/** Lays a hold, or ends one. */
export function useWorkHolds() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ lay, end }: { lay?: NewHold; end?: number }) =>
      lay ? call<Hold>("POST", "/api/v1/holds", lay) : call<Hold>("DELETE", `/api/v1/holds/${end}`),
    onSettled: () => {
      for (const key of ["holds", "today", "lanes", "run", "board"]) queries.invalidateQueries({ queryKey: [key] });
    },
  });
}
