import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { call, get } from "../../api/client";

export type Approval = {
  run: number;
  job: string;
  team: string;
  step: string;
  asks: string;
  of: string;
  since: string;
  until?: string;
  mayDecide: boolean;
};

/** The questions of chains that wait for an answer. */
export function useApprovals() {
  return useQuery({
    queryKey: ["approvals"],
    queryFn: () => get<Approval[]>("/api/v1/approvals"),
    refetchInterval: 30_000,
  });
}

export type Deed =
  | { what: "go-on"; from?: string; parameters?: Record<string, string>; note?: string }
  | { what: "skip"; step: string; note?: string }
  | { what: "decide"; step: string; approve: boolean; note?: string }
  | { what: "hold"; note?: string }
  | { what: "let-go" };

function send(run: number, deed: Deed) {
  const base = `/api/v1/runs/${run}`;
  switch (deed.what) {
    case "go-on":
      return call("POST", `${base}/rounds`, { from: deed.from, parameters: deed.parameters, note: deed.note });
    case "skip":
      return call("POST", `${base}/steps/${encodeURIComponent(deed.step)}/skip`, { note: deed.note });
    case "decide":
      return call("POST", `${base}/steps/${encodeURIComponent(deed.step)}/decision`, {
        approve: deed.approve,
        note: deed.note,
      });
    case "hold":
      return call("PUT", `${base}/hold`, { note: deed.note });
    case "let-go":
      return call("DELETE", `${base}/hold`);
  }
}

/** Does something to a chain's run. */
export function useDeed(run: number) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (deed: Deed) => send(run, deed),
    onSettled: () => {
      queries.invalidateQueries({ queryKey: ["run"] });
      queries.invalidateQueries({ queryKey: ["approvals"] });
    },
  });
}
