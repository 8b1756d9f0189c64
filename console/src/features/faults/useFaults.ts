import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { call, get, getAll } from "../../api/client";
import type { Fault, FaultPageView } from "../../api/types";

/** Of those that are over there may be very many. */
export const LATEST_FAULTS = 200;

/** The faults that go on, all of them; or the latest, whether they are over or not. */
export function useFaults(open: boolean, job = "") {
  return useQuery({
    queryKey: ["faults", open, job],
    queryFn: () => {
      const path = `/api/v1/faults?open=${open}&job=${encodeURIComponent(job)}`;
      return open ? getAll<Fault>(`${path}&limit=500`) : get<Fault[]>(`${path}&limit=${LATEST_FAULTS}`);
    },
  });
}

export function useFault(id: number) {
  return useQuery({ queryKey: ["fault", id], queryFn: () => get<FaultPageView>(`/api/v1/faults/${id}`) });
}

export type FaultDeed = { what: "take" } | { what: "leave" } | { what: "note"; text: string };

function send(id: number, deed: FaultDeed) {
  const base = `/api/v1/faults/${id}`;
  if (deed.what === "take") return call("PUT", `${base}/charge`, {});
  return deed.what === "leave" ? call("DELETE", `${base}/charge`) : call("POST", `${base}/notes`, { text: deed.text });
}

export function useFaultDeed(id: number) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (deed: FaultDeed) => send(id, deed),
    onSettled: () => {
      queries.invalidateQueries({ queryKey: ["fault", id] });
      queries.invalidateQueries({ queryKey: ["faults"] });
    },
  });
}
