import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { call, get, withQuery } from "../../api/client";
import type { Handled, Roster, RosterRow } from "../../api/types";
import { useSaveDefinition } from "../../api/useSaveDefinition";
import type { RowChanges } from "./rowEdits";

export function useRosters() {
  return useQuery({ queryKey: ["rosters"], queryFn: () => get<Roster[]>("/api/v1/rosters") });
}

/** A roster with the tag that an edit of it has to show. */
export function useRoster(name: string) {
  return useQuery({
    queryKey: ["rosters", name],
    queryFn: () => call<Roster>("GET", `/api/v1/rosters/${name}`).then(({ body, tag }) => ({ ...body, tag })),
  });
}

/** Saves a definition: a new roster, or the next revision of one that was read with the given tag. */
export function useSaveRoster(name: string) {
  return useSaveDefinition<Roster>("rosters", name, ["rosters"]);
}

export function useHandled(name: string, after: number) {
  return useQuery({
    queryKey: ["rosters", name, "handled", after],
    queryFn: () => call<Handled[]>("GET", withQuery(`/api/v1/rosters/${name}/handled`, { after, limit: 50 })),
  });
}

/** Forgets one record, or with no key all of them. */
export function useForget(name: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (key: string) => call<void>("DELETE", withQuery(`/api/v1/rosters/${name}/handled`, { key })),
    onSettled: () => queries.invalidateQueries({ queryKey: ["rosters", name, "handled"] }),
  });
}

export function useRosterRows(name: string, after: number) {
  return useQuery({
    queryKey: ["rosters", name, "rows", after],
    queryFn: () => call<RosterRow[]>("GET", withQuery(`/api/v1/rosters/${name}/rows`, { after, limit: 100 })),
    placeholderData: (before) => before,
  });
}

const AT_ONCE = 100;

/** The rows at some places as they are now, and the tag that shows that they were read. */
export async function rowsAt(name: string, places: number[]) {
  const rows: Record<number, RosterRow | undefined> = {};
  let tag: string | undefined;
  let through = 0;
  for (const place of places) {
    if (place <= through) continue;
    const path = withQuery(`/api/v1/rosters/${name}/rows`, { after: place - 1, limit: AT_ONCE });
    const page = await call<RosterRow[]>("GET", path);
    tag ??= page.tag;
    for (const row of page.body) if (places.includes(row.place)) rows[row.place] = row;
    through = page.next === undefined ? Number.POSITIVE_INFINITY : (page.body.at(-1)?.place ?? place);
  }
  return { rows, tag };
}

/** Puts rows, as CSV, in the place of those that are there. */
export function useLoadRows(name: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (csv: string) => call<Roster>("PUT", `/api/v1/rosters/${name}/rows`, { csv }),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["rosters"] }),
  });
}

/** Saves edits of rows that were read with the given tag. */
export function useEditRows(name: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ changes, tag }: { changes: RowChanges; tag: string }) =>
      call<void>("PATCH", `/api/v1/rosters/${name}/rows`, changes, { "If-Match": tag }),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["rosters"] }),
  });
}
