import { useMutation, useQueryClient } from "@tanstack/react-query";
import { call } from "./client";

/**
 * Saves a definition: a new thing, or with a name the next revision of one that was read with the given tag.
 *
 * @param nouns the things' place in the API, such as jobs
 * @param stale the queries that have to be asked again
 */
export function useSaveDefinition<T>(nouns: string, name: string, tag: string | undefined, stale: string[]) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (definition: string) =>
      name
        ? call<T>("PUT", `/api/v1/${nouns}/${name}`, { definition }, { "If-Match": tag ?? "" })
        : call<T>("POST", `/api/v1/${nouns}`, { definition }),
    onSuccess: () => {
      for (const key of stale) queries.invalidateQueries({ queryKey: [key] });
    },
  });
}
