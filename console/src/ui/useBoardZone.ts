import { useToday } from "../features/today/useToday";
import { ownZone } from "./times";

/** The zone that most schedules are meant in. */
export function useBoardZone(): string {
  return useToday("night").data?.zone ?? ownZone();
}
