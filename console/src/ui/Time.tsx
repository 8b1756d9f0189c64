import Box from "@mui/material/Box";
import Tooltip from "@mui/material/Tooltip";
import { MONO } from "../theme";
import { useDateStyle } from "./dateStyle";
import { dayAndClock, ownZone, relative, zoneName } from "./times";
import { useBoardZone } from "./useBoardZone";

/** An instant in the zone of most schedules, or in a given one; on hover in UTC and in the reader's too. */
export function Time({ at, zone, as = "day" }: { at?: string; zone?: string; as?: "day" | "relative" | "seconds" }) {
  const usual = useBoardZone();
  useDateStyle();
  if (!at) return null;
  const shown = zone ?? usual;
  const text = as === "relative" ? relative(at, Date.now()) : dayAndClock(at, shown, as === "seconds");
  return (
    <Tooltip title={<Zones at={at} zone={shown} />}>
      <Box component="time" dateTime={at} sx={{ fontFamily: MONO, fontSize: "0.86em", whiteSpace: "nowrap" }}>
        {text}
      </Box>
    </Tooltip>
  );
}

export function Zones({ at, zone }: { at: string; zone?: string }) {
  const zones = [...new Set([...(zone ? [zone] : []), "UTC", ownZone()])];
  return (
    <Box sx={{ fontFamily: MONO }}>
      {zones.map((each) => (
        <div key={each}>
          {dayAndClock(at, each, true)} {zoneName(each)}
          {each === ownZone() ? " (yours)" : ""}
        </div>
      ))}
      <div>{relative(at, Date.now())}</div>
    </Box>
  );
}
