import { useSyncExternalStore } from "react";

/** What is unsaved on the page, by a key of its own each, with the words in which it is asked for. */
const unsaved = new Map<symbol, string>();
const listeners = new Set<() => void>();

function tell() {
  for (const listener of listeners) listener();
}

export function keepUnsaved(key: symbol, what: string) {
  unsaved.set(key, what);
  tell();
}

export function dropUnsaved(key: symbol) {
  if (unsaved.delete(key)) tell();
}

/** All of it is let go: whoever sits there has said so. */
export function dropAllUnsaved() {
  unsaved.clear();
  tell();
}

export const isUnsaved = () => unsaved.size > 0;

/** What is unsaved, in words; empty where nothing is. */
export const unsavedWords = () => [...new Set(unsaved.values())].join(", ");

export function useUnsaved(): string {
  return useSyncExternalStore((listener) => {
    listeners.add(listener);
    return () => listeners.delete(listener);
  }, unsavedWords);
}
