import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";

/** At most so often is a page asked again, however much happens. */
const PAUSE = 700;

/** Listens to the service's live changes and lets what is shown be asked for again when it may have changed. */
export function useLiveChanges() {
  const queries = useQueryClient();
  useEffect(() => {
    const events = new EventSource("/api/v1/events");
    const stale = new Set<string>();
    let timer: ReturnType<typeof setTimeout> | undefined;
    const refresh = () => {
      timer = undefined;
      for (const kind of stale) queries.invalidateQueries({ queryKey: [kind] });
      stale.clear();
    };
    const mark = (...kinds: string[]) => {
      for (const kind of kinds) stale.add(kind);
      timer ??= setTimeout(refresh, PAUSE);
    };
    events.addEventListener("run.changed", () =>
      mark("runs", "run", "today", "board", "jobs", "lanes", "faults", "fault", "bell", "triggers"),
    );
    events.addEventListener("job.changed", () => mark("jobs", "job", "schedules", "today", "board", "triggers"));
    events.addEventListener("calendar.changed", () => mark("calendars", "calendar", "schedules", "board"));
    events.addEventListener("engine.changed", () => mark("today"));
    for (const topic of ["file.changed", "folder.changed", "call.changed", "row.changed"]) {
      events.addEventListener(topic, () => mark("triggers", "events"));
    }
    events.addEventListener("silence.changed", () => mark("today"));
    events.addEventListener("fault.changed", () => mark("faults", "fault"));
    for (const topic of ["notification.changed", "duty.changed", "channel.changed", "digest.changed"]) {
      events.addEventListener(topic, () => mark("tellings", "job"));
    }
    for (const topic of ["lane.changed", "hold.changed"]) {
      events.addEventListener(topic, () => mark("lanes", "holds", "today", "run"));
    }
    events.addEventListener("open", () => mark("runs", "run", "today", "board"));
    return () => {
      clearTimeout(timer);
      events.close();
    };
  }, [queries]);
}
