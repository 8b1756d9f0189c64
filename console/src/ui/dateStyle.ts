import { choice, useChoice } from "./choices";

/** How dates are written: in words (Mon 23 Nov) or by ISO 8601 (2026-11-23). */
export type DateStyle = "words" | "iso";

const NAME = "dates";

export const dateStyle = (): DateStyle => (choice(NAME) === "iso" ? "iso" : "words");

export function useDateStyle(): [DateStyle, (next: DateStyle) => void] {
  const [, choose] = useChoice<DateStyle>(NAME, "words");
  return [dateStyle(), choose];
}
