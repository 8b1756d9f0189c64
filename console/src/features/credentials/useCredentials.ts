import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { call, get } from "../../api/client";
import type { Credential } from "../../api/types";

export type CredentialDraft = {
  team: string;
  kind: string;
  about: string;
  facts: Record<string, string>;
  secrets?: Record<string, string>;
  teams: string[];
  jobs: string[];
  expiresOn?: string;
};

export function useCredentials() {
  return useQuery({ queryKey: ["credentials"], queryFn: () => get<Credential[]>("/api/v1/credentials") });
}

export function useTryCredential() {
  return useMutation({
    mutationFn: (name: string) =>
      call<{ works: boolean; said: string }>("POST", `/api/v1/credentials/${name}/test`).then(({ body }) => body),
  });
}

export function useRotate(name: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (secrets: Record<string, string>) =>
      call<Credential>("POST", `/api/v1/credentials/${name}/rotate`, { secrets }),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["credentials"] }),
  });
}

/** Keeps a credential; one that is there already is changed, unless somebody else did so since the dialogue was opened. */
export function useKeep(known?: string) {
  const queries = useQueryClient();
  const tag = useQuery({
    queryKey: ["credential-tag", known],
    queryFn: () => call<Credential>("GET", `/api/v1/credentials/${known}`).then((answer) => answer.tag ?? ""),
    enabled: known !== undefined,
    gcTime: 0,
  });
  const keep = useMutation({
    mutationFn: ({ name, draft }: { name: string; draft: CredentialDraft }) =>
      call<Credential>(
        "PUT",
        `/api/v1/credentials/${encodeURIComponent(name)}`,
        draft,
        known === undefined ? {} : { "If-Match": tag.data ?? "" },
      ),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["credentials"] }),
  });
  // an edit that does not know yet of which revision it is one would be turned down
  return { ...keep, isReady: known === undefined || tag.data !== undefined };
}
