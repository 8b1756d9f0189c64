import { useQuery } from "@tanstack/react-query";
import { get, withQuery } from "../../api/client";
import type { Forecast } from "../../api/types";

const HOUR = 3_600_000;

/** What will start in the hours to come, where something may be supposed; nothing is saved. */
export function useForecast(hours: number, team: string, job: string, suppose: string[], enabled = true) {
  return useQuery({
    queryKey: ["board", "ahead", hours, team, job, suppose],
    queryFn: () => {
      const from = Date.now();
      const until = new Date(from + hours * HOUR).toISOString();
      const path = withQuery("/api/v1/forecast", { from: new Date(from).toISOString(), until, team, job });
      return get<Forecast>(path + suppose.map((each) => `&suppose=${encodeURIComponent(each)}`).join(""));
    },
    enabled,
    refetchInterval: 60_000,
    placeholderData: (before) => before,
  });
}
