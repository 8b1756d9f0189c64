import { useMutation, useQuery } from "@tanstack/react-query";
import { call, get, withQuery } from "../../api/client";
import type { Calendar, CalendarDay, CalendarPreview } from "../../api/types";
import { useSaveDefinition } from "../../api/useSaveDefinition";

export function useCalendars() {
  return useQuery({ queryKey: ["calendars"], queryFn: () => get<Calendar[]>("/api/v1/calendars") });
}

/** A calendar with the tag that an edit has to carry. */
export function useCalendar(name: string) {
  return useQuery({
    queryKey: ["calendar", name],
    queryFn: () => call<Calendar>("GET", `/api/v1/calendars/${encodeURIComponent(name)}`),
    enabled: name !== "",
  });
}

export function useYear(name: string, year: number) {
  return useQuery({
    queryKey: ["calendar", name, year],
    queryFn: () => get<CalendarDay[]>(`/api/v1/calendars/${encodeURIComponent(name)}/years/${year}`),
    placeholderData: (before) => before,
  });
}

/** What a definition would change and what its year would look like, before it is saved. */
export function useCalendarPreview(definition: string, year: number) {
  return useQuery({
    queryKey: ["calendar-preview", definition, year],
    queryFn: async () =>
      (await call<CalendarPreview>("POST", withQuery("/api/v1/calendars/preview", { year }), { definition })).body,
    retry: false,
    placeholderData: (before) => before,
  });
}

/** Saves a definition: a new calendar, or the next revision of one that was read with the given tag. */
export function useSaveCalendar(name: string) {
  return useSaveDefinition<Calendar>("calendars", name, ["calendar", "calendars", "schedules"]);
}

/** The definition of the calendar that an iCalendar file holds. */
export function useFromIcs() {
  return useMutation({
    mutationFn: async (body: { name: string; team: string; text: string }) =>
      (await call<{ definition: string }>("POST", "/api/v1/calendars/from-ics", body)).body.definition,
  });
}
