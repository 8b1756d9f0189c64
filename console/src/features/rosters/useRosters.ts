import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { call, get, withQuery } from "../../api/client";
import type { Roster, RosterRow } from "../../api/types";

export function useRosters() {
  return useQuery({ queryKey: ["rosters"], queryFn: () => get<Roster[]>("/api/v1/rosters") });
}

export function useRoster(name: string) {
  return useQuery({ queryKey: ["rosters", name], queryFn: () => get<Roster>(`/api/v1/rosters/${name}`) });
}

export function useRosterRows(name: string, after: number) {
  return useQuery({
    queryKey: ["rosters", name, "rows", after],
    queryFn: () => call<RosterRow[]>("GET", withQuery(`/api/v1/rosters/${name}/rows`, { after, limit: 100 })),
    placeholderData: (before) => before,
  });
}

/** Puts rows, as CSV, in the place of those that are there. */
export function useLoadRows(name: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (csv: string) => call<Roster>("PUT", `/api/v1/rosters/${name}/rows`, { csv }),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["rosters"] }),
  });
}

export function useInclude(name: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ place, included }: { place: number; included: boolean }) =>
      call<void>("PUT", `/api/v1/rosters/${name}/rows/${place}/included`, { included }),
    onSettled: () => queries.invalidateQueries({ queryKey: ["rosters", name] }),
  });
}
