import Box from "@mui/material/Box";
import { MONO } from "../theme";
import { clock, fullDay, ownZone, zoneName } from "./times";
import { useBoardZone } from "./useBoardZone";
import { useNow } from "./useNow";

/** What time it is: in the zone of most schedules, in UTC, and where the reader is. */
export function TodayClock() {
  const zone = useBoardZone();
  const now = useNow(10_000);
  return (
    <Box sx={{ ml: "auto", textAlign: "right", fontFamily: MONO, display: { xs: "none", sm: "block" } }}>
      <Box sx={{ fontWeight: 650, fontSize: "0.88rem" }}>
        {fullDay(now, zone)} {zoneName(zone)}
      </Box>
      <Box sx={{ color: "text.secondary", fontSize: "0.72rem" }}>
        {clock(now, "UTC")} UTC · yours: {clock(now, ownZone())}
      </Box>
    </Box>
  );
}
