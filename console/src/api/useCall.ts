import { useMutation, useQueryClient } from "@tanstack/react-query";
import { call } from "./client";

type Called = { method: "POST" | "PUT" | "DELETE"; path: string; body?: unknown };

/** Does something by a call; what may be stale afterwards is asked for again. */
export function useCall<T = unknown>(...stale: string[]) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ method, path, body }: Called) => call<T>(method, path, body),
    onSettled: () => {
      for (const key of stale) queries.invalidateQueries({ queryKey: [key] });
    },
  });
}
