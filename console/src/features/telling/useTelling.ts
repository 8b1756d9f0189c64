import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { call, get, withQuery } from "../../api/client";
import type { Bell, Say, Telling, Told } from "../../api/types";
import type { Written } from "../../api/useSaveDefinition";

/** The rules, duty lists and channels that one may see. */
export function useTellings() {
  return useQuery({ queryKey: ["tellings"], queryFn: () => get<Telling[]>("/api/v1/tellings") });
}

/** Saves a definition; one that is there is changed from the revision that was read. */
export function useSaveTelling(of?: Telling) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ definition, tag }: Written) =>
      of
        ? call<Telling>("PUT", `/api/v1/tellings/${of.kind}/${of.name}`, { definition }, { "If-Match": tag ?? "" })
        : call<Telling>("POST", "/api/v1/tellings", { definition }),
    onSettled: () => queries.invalidateQueries({ queryKey: ["tellings"] }),
  });
}

export function useRetireTelling() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (of: Telling) => call("DELETE", `/api/v1/tellings/${of.kind}/${of.name}`),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["tellings"] }),
  });
}

function useDuty<Body>(of: Telling, what: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: Body) => call<Telling>("POST", `/api/v1/tellings/duty/${of.name}/${what}`, body),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["tellings"] }),
  });
}

/** Has somebody stand in on a duty list. */
export const useCover = (of: Telling) => useDuty<{ from: string; until: string; person: string }>(of, "covers");

/** Exchanges two weeks of a duty list. */
export const useSwap = (of: Telling) => useDuty<{ week: string; with: string }>(of, "swaps");

export type Tried = { channel: string; to: string; taken: boolean; said: string };

/** Sends a test by a channel. */
export function useTryChannel() {
  return useMutation({
    mutationFn: async (channel: string) => (await call<Tried>("POST", `/api/v1/channels/${channel}/test`, {})).body,
  });
}

/** Who would be told of a job at a moment. */
export function useTold(job: string, at: string) {
  return useQuery({
    queryKey: ["job", job, "told", at],
    queryFn: () => get<Told>(withQuery(`/api/v1/jobs/${job}/told`, { at: at || undefined })),
  });
}

export function useSay() {
  return useQuery({ queryKey: ["say"], queryFn: () => get<Say>("/api/v1/me/telling") });
}

export function useSaySo() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (say: Say) => call<Say>("PUT", "/api/v1/me/telling", say),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["say"] }),
  });
}

/** Follows or mutes a job, or takes that back. */
export function useInterest(job: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (follows: boolean | undefined) =>
      follows === undefined
        ? call("DELETE", `/api/v1/me/jobs/${job}`)
        : call("PUT", `/api/v1/me/jobs/${job}`, { follows }),
    onSuccess: () => {
      queries.invalidateQueries({ queryKey: ["say"] });
      queries.invalidateQueries({ queryKey: ["job", job] });
    },
  });
}

/** What concerns me. */
export function useBell() {
  return useQuery({
    queryKey: ["bell"],
    queryFn: () => get<Bell>("/api/v1/me/bell?limit=30"),
    refetchInterval: 60_000,
  });
}

export function useSeen() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: () => call<Bell>("POST", "/api/v1/me/bell/seen", {}),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["bell"] }),
  });
}
