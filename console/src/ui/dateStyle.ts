import { useSyncExternalStore } from "react";

/** How dates are written: in words (Mon 23 Nov) or by ISO 8601 (2026-11-23). */
export type DateStyle = "words" | "iso";

const KEY = "gantrel.dates";
const listeners = new Set<() => void>();
let style: DateStyle = typeof localStorage !== "undefined" && localStorage.getItem(KEY) === "iso" ? "iso" : "words";

export const dateStyle = () => style;

export function chooseDateStyle(next: DateStyle) {
  style = next;
  localStorage.setItem(KEY, next);
  for (const listener of listeners) listener();
}

export function useDateStyle(): DateStyle {
  return useSyncExternalStore((listener) => {
    listeners.add(listener);
    return () => listeners.delete(listener);
  }, dateStyle);
}
