import { useEffect } from "react";
import { useLiveness } from "../api/stream";
import { useToday } from "../features/today/useToday";
import { dayIcon } from "./dayIcon";

/** Lets the page's icon say how the day goes, so that a glance at the tabs is enough. */
export function DayIcon() {
  const { data } = useToday("night");
  const { live, ever } = useLiveness();
  const away = ever && !live;
  const bad = data && data.attention.length + data.deadlines.length + data.silences.length + data.setAside.length > 0;
  const state = away || !data ? "unknown" : bad ? "attention" : "fine";
  useEffect(() => {
    const link = document.querySelector<HTMLLinkElement>('link[rel="icon"]');
    if (link) link.href = dayIcon(state);
  }, [state]);
  return null;
}
