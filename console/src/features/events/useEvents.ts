import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { call, get } from "../../api/client";
import type {
  EventTypeView,
  JournalEvent,
  LineagePart,
  Silence,
  Trigger,
  TriggerPageView,
  TriggerTrial,
} from "../../api/types";

export type Wanted = { type: string; job: string; since: string };

const LIVE = 4_000;

/** What happened, newest first; asked again while it is looked at. */
export function useEvents(wanted: Wanted, limit: number) {
  const query = new URLSearchParams({ type: wanted.type, job: wanted.job, limit: String(limit) });
  if (wanted.since) query.set("since", wanted.since);
  return useQuery({
    queryKey: ["events", query.toString()],
    queryFn: () => get<JournalEvent[]>(`/api/v1/journal?${query}`),
    refetchInterval: LIVE,
    placeholderData: (before) => before,
  });
}

export function useEventTypes() {
  return useQuery({
    queryKey: ["event-types"],
    queryFn: () => get<EventTypeView[]>("/api/v1/journal/types"),
    staleTime: Number.POSITIVE_INFINITY,
  });
}

export function useTriggers(job: string) {
  return useQuery({
    queryKey: ["triggers", job],
    queryFn: () => get<Trigger[]>(`/api/v1/triggers?job=${encodeURIComponent(job)}`),
  });
}

const place = (job: string, name: string) => `/api/v1/triggers/${encodeURIComponent(job)}/${encodeURIComponent(name)}`;

export function useTrigger(job: string, name: string) {
  return useQuery({
    queryKey: ["triggers", job, name],
    queryFn: () => get<TriggerPageView>(place(job, name)),
  });
}

export function useSwitchTrigger(job: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ name, on }: { name: string; on: boolean }) => call("PUT", `${place(job, name)}/switch`, { on }),
    onSettled: () => queries.invalidateQueries({ queryKey: ["triggers"] }),
  });
}

export function useTrial(job: string, name: string) {
  return useMutation({
    mutationFn: async (event: unknown) => {
      const answer = await call<TriggerTrial>("POST", `${place(job, name)}/trial`, { event });
      return answer.body;
    },
  });
}

/** What caused a run, and what it caused. */
export function useLineage(run: number) {
  return useQuery({
    queryKey: ["run", "lineage", run],
    queryFn: () => get<LineagePart>(`/api/v1/runs/${run}/lineage`),
  });
}

export function useSilenceCharge() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ silence, take }: { silence: Silence; take: boolean }) =>
      call(take ? "PUT" : "DELETE", `/api/v1/silences/${silence.id}/charge`, take ? {} : undefined),
    onSettled: () => queries.invalidateQueries({ queryKey: ["today"] }),
  });
}
