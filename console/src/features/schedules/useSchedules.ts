import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { call, get, withQuery } from "../../api/client";
import type { Explanation, Schedule } from "../../api/types";

export function useSchedules() {
  return useQuery({ queryKey: ["schedules"], queryFn: () => get<Schedule[]>("/api/v1/schedules") });
}

/** Switches one or many at once. */
export function useSwitchMany() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ schedules, on }: { schedules: Schedule[]; on: boolean }) =>
      call("PUT", "/api/v1/schedules/switch", {
        on,
        schedules: schedules.map(({ job, name }) => ({ job, schedule: name })),
      }),
    onSettled: () => {
      for (const key of ["schedules", "job", "jobs", "board", "today"]) queries.invalidateQueries({ queryKey: [key] });
    },
  });
}

export type Asked = {
  expression: string;
  zone: string;
  calendar?: string;
  except?: string;
  shift?: string;
  job?: string;
};

/** What a schedule would stand for, asked while it is being written. */
export function usePreview(asked: Asked) {
  return useQuery({
    queryKey: ["when", asked],
    queryFn: () => get<Explanation>(withQuery("/api/v1/when", asked)),
    enabled: asked.expression.trim() !== "" && asked.zone.trim() !== "",
    retry: false,
    placeholderData: (before) => before,
  });
}
