import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";

/** The page keeps no more than so many lines; the whole log is there to be downloaded. */
const MOST_LINES = 5_000;

export type Log = { lines: string[]; dropped: number; live: boolean };

type Piece = { text: string; to: number };

/** Follows a log from its start until the run ends, over server-sent events. */
export function useLog(number: number): Log {
  const queries = useQueryClient();
  const [log, setLog] = useState<Log>({ lines: [], dropped: 0, live: true });
  useEffect(() => {
    const events = new EventSource(`/api/v1/runs/${number}/log/events`);
    events.addEventListener("lines", (event) => {
      const piece = JSON.parse((event as MessageEvent<string>).data) as Piece;
      const fresh = piece.text.replace(/\n$/, "").split("\n");
      setLog((known) => {
        const all = [...known.lines, ...fresh];
        const over = Math.max(0, all.length - MOST_LINES);
        return { lines: all.slice(over), dropped: known.dropped + over, live: true };
      });
    });
    // the next try has a log of its own
    events.addEventListener("try", () => setLog({ lines: [], dropped: 0, live: true }));
    events.addEventListener("end", () => {
      events.close();
      setLog((known) => ({ ...known, live: false }));
      queries.invalidateQueries({ queryKey: ["run", String(number)] });
    });
    return () => events.close();
  }, [number, queries]);
  return log;
}
