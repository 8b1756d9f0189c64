import { useMutation, useQuery } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { call, get } from "../../api/client";

export type Starter = {
  name: string;
  about: string;
  blanks: { name: string; about: string; example: string }[];
};

type Imported = { kind: string; name: string };

export function useStarters() {
  return useQuery({ queryKey: ["starters"], queryFn: () => get<Starter[]>("/api/v1/starters") });
}

export function useFill(name: string) {
  return useMutation({
    mutationFn: (blanks: Record<string, string>) =>
      call<{ definition: string }>("POST", `/api/v1/starters/${name}`, { blanks }).then(({ body }) => body.definition),
  });
}

/** Brings definitions in and opens the job that came of them, the last of the file. */
export function useBringIn() {
  const navigate = useNavigate();
  return useMutation({
    mutationFn: (text: string) => call<Imported[]>("POST", "/api/v1/imports", { files: [{ name: "starter", text }] }),
    onSuccess: ({ body }) => {
      const job = body.filter(({ kind }) => kind === "task" || kind === "chain").at(-1);
      if (job) navigate(`/jobs/${job.name}`);
    },
  });
}
