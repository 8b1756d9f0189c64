import { useMutation, useQuery } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { call, get, getAll, withQuery } from "../../api/client";
import type { Job, JobSummary, Rehearsal, Run } from "../../api/types";
import { useSaveDefinition } from "../../api/useSaveDefinition";
import { dropAllUnsaved } from "../../ui/unsaved";

export function useJobs(text: string, team: string) {
  return useQuery({
    queryKey: ["jobs", text, team],
    queryFn: () => getAll<JobSummary>(withQuery("/api/v1/jobs", { q: text, team, limit: 500 })),
    placeholderData: (before) => before,
  });
}

/** A job with the tag that an edit has to carry. */
export function useJob(name: string) {
  return useQuery({
    queryKey: ["job", name],
    queryFn: () => call<Job>("GET", `/api/v1/jobs/${encodeURIComponent(name)}`),
    enabled: name !== "",
  });
}

export function useRunsOf(job: string, limit: number) {
  return useQuery({
    queryKey: ["runs", "of", job, limit],
    queryFn: () => get<Run[]>(withQuery("/api/v1/runs", { job, limit })),
  });
}

/** The rows of a roster that a job is to run over. */
export type Over = { roster: string; rows: string };

export function useRehearse(job: string) {
  return useMutation({
    mutationFn: (asked: { parameters: Record<string, string>; over: string }) =>
      call<Rehearsal>("POST", `/api/v1/jobs/${job}/rehearsal`, asked),
  });
}

export function useStart(job: string) {
  const navigate = useNavigate();
  return useMutation({
    mutationFn: ({
      key,
      ...start
    }: {
      parameters: Record<string, string>;
      over?: Over;
      skipGates?: boolean;
      key: string;
    }) => call<Run>("POST", `/api/v1/jobs/${job}/runs`, start, { "Idempotency-Key": key }),
    onSuccess: ({ body }) => {
      // what was typed has become a run
      dropAllUnsaved();
      navigate(`/runs/${body.number}`);
    },
  });
}

/** Saves a definition: a new job, or the next revision of one that was read with the given tag. */
export function useSave(name: string) {
  return useSaveDefinition<Job>("jobs", name, ["job", "jobs"]);
}
