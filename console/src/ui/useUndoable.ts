import { useCallback, useEffect, useState } from "react";

const MOST = 200;
/** What is typed within so many milliseconds is taken back at once. */
const TOGETHER = 800;

type Past = { before: string[]; now: string; after: string[]; at: number };

/** A text with its past: what was changed can be taken back, and brought back again, with Ctrl+Z and Ctrl+Shift+Z too. */
export function useUndoable(written: string) {
  const [past, setPast] = useState<Past>({ before: [], now: written, after: [], at: 0 });
  const set = useCallback((change: string | ((text: string) => string)) => {
    const at = Date.now();
    setPast((was) => {
      const next = typeof change === "function" ? change(was.now) : change;
      if (next === was.now) return was;
      const typing = typeof change !== "function" && at - was.at < TOGETHER && was.before.length > 0;
      const before = typing ? was.before : [...was.before, was.now].slice(-MOST);
      return { before, now: next, after: [], at: typeof change === "function" ? 0 : at };
    });
  }, []);
  /** Begins anew with another text: nothing of before can be brought back. */
  const restart = useCallback((text: string) => setPast({ before: [], now: text, after: [], at: 0 }), []);
  const undo = useCallback(() => {
    setPast(({ before, now, after }) =>
      before.length === 0
        ? { before, now, after, at: 0 }
        : { before: before.slice(0, -1), now: before[before.length - 1], after: [now, ...after], at: 0 },
    );
  }, []);
  const redo = useCallback(() => {
    setPast(({ before, now, after }) =>
      after.length === 0
        ? { before, now, after, at: 0 }
        : { before: [...before, now], now: after[0], after: after.slice(1), at: 0 },
    );
  }, []);
  useEffect(() => {
    const pressed = (event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== "z") return;
      // what is typed in a dialog has a past of its own
      if (event.target instanceof Element && event.target.closest("[role=dialog]")) return;
      event.preventDefault();
      if (event.shiftKey) redo();
      else undo();
    };
    window.addEventListener("keydown", pressed);
    return () => window.removeEventListener("keydown", pressed);
  }, [undo, redo]);
  return { text: past.now, set, restart, undo, redo, mayUndo: past.before.length > 0, mayRedo: past.after.length > 0 };
}
