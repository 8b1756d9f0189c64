import Box from "@mui/material/Box";
import type { ComingStart } from "../../api/types";
import { Panel } from "../../ui/Panel";
import { clock } from "../../ui/times";
import { useBoardZone } from "../../ui/useBoardZone";

const MOST_BARS = 48;
const HOUR = 3_600_000;

type Props = { starts: ComingStart[]; from: string; until: string };

/** When it is busy: how many starts fall into each hour, or few hours. */
export function StartsByHour({ starts, from, until }: Props) {
  const zone = useBoardZone();
  const begin = Math.floor(new Date(from).getTime() / HOUR) * HOUR;
  const hours = Math.ceil((new Date(until).getTime() - begin) / HOUR);
  const wide = Math.max(1, Math.ceil(hours / MOST_BARS));
  const bars = Array.from({ length: Math.ceil(hours / wide) }, (_, index) => ({
    at: begin + index * wide * HOUR,
    count: 0,
  }));
  for (const start of starts) {
    const bar = bars[Math.floor((new Date(start.at).getTime() - begin) / (wide * HOUR))];
    if (bar) bar.count++;
  }
  const most = Math.max(1, ...bars.map((bar) => bar.count));
  const label = (at: number) => clock(at, zone);
  return (
    <Box sx={{ mb: 1.5 }}>
      <Panel title={wide === 1 ? "Starts an hour" : `Starts in ${wide} hours each`}>
        <Box
          role="img"
          aria-label={`At most ${most}, from ${label(begin)} on`}
          sx={{ display: "flex", alignItems: "flex-end", gap: "2px", height: 72 }}
        >
          {bars.map((bar, index) => (
            <Box key={bar.at} title={`${label(bar.at)}: ${bar.count}`} sx={{ flex: 1, minWidth: 0 }}>
              <Box
                sx={{
                  height: Math.round((52 * bar.count) / most),
                  bgcolor: "primary.main",
                  opacity: 0.75,
                  borderRadius: "2px 2px 0 0",
                }}
              />
              <Box
                sx={{
                  fontSize: "0.68rem",
                  color: "text.secondary",
                  height: 16,
                  whiteSpace: "nowrap",
                  overflow: "visible",
                }}
              >
                {index % Math.max(1, Math.ceil(bars.length / 12)) === 0 ? label(bar.at) : ""}
              </Box>
            </Box>
          ))}
        </Box>
      </Panel>
    </Box>
  );
}
