import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { onTold, openStream, useLiveness } from "./stream";
import { staleBy } from "./topics";

/** At most so often is a page asked again, however much happens. */
const PAUSE = 700;
/** So often a page asks by itself while nothing can be told to it. */
const POLL = 10_000;

/** Listens to the service's live changes and lets what is shown be asked for again when it may have changed. */
export function useLiveChanges() {
  const queries = useQueryClient();
  const { live } = useLiveness();
  useEffect(() => {
    const stale = new Set<string>();
    let timer: ReturnType<typeof setTimeout> | undefined;
    const refresh = () => {
      timer = undefined;
      for (const kind of stale) queries.invalidateQueries({ queryKey: [kind] });
      stale.clear();
    };
    const deaf = onTold((topic) => {
      for (const kind of staleBy(topic)) stale.add(kind);
      if (stale.size > 0) timer ??= setTimeout(refresh, PAUSE);
    });
    const close = openStream();
    return () => {
      clearTimeout(timer);
      deaf();
      close();
    };
  }, [queries]);
  // what happened while nobody listened is asked for once the stream is open again
  useEffect(() => {
    const all = () => {
      if (document.visibilityState === "visible") queries.invalidateQueries({ refetchType: "active" });
    };
    if (live) {
      all();
      return;
    }
    const polling = setInterval(all, POLL);
    return () => clearInterval(polling);
  }, [live, queries]);
}
