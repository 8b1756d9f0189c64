import { useMutation, useQueryClient } from "@tanstack/react-query";
import { call } from "./client";

/** A definition to be saved, and the revision that it is written upon. */
export type Written = { definition: string; tag?: string };

/**
 * Saves a definition: a new thing, or with a name the next revision of one that was read with a tag.
 *
 * @param nouns the things' place in the API, such as jobs
 * @param stale the queries that have to be asked again
 */
export function useSaveDefinition<T>(nouns: string, name: string, stale: string[]) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ definition, tag }: Written) =>
      name
        ? call<T>("PUT", `/api/v1/${nouns}/${name}`, { definition }, { "If-Match": tag ?? "" })
        : call<T>("POST", `/api/v1/${nouns}`, { definition }),
    // refused because somebody else saved first, it is asked for again too: both versions are then shown
    onSettled: () => {
      for (const key of stale) queries.invalidateQueries({ queryKey: [key] });
    },
  });
}
