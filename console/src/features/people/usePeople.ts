import { useQuery } from "@tanstack/react-query";
import { get } from "../../api/client";
import type { Person, Team } from "../../api/types";

export const ROLES = ["viewer", "operator", "editor", "manager"];

export function useTeams() {
  return useQuery({ queryKey: ["teams"], queryFn: () => get<Team[]>("/api/v1/teams") });
}

/** All people, for whoever may see them. */
export function usePeople(on: boolean) {
  return useQuery({
    queryKey: ["people"],
    queryFn: () => get<Person[]>("/api/v1/people"),
    enabled: on,
  });
}
