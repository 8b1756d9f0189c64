import Box from "@mui/material/Box";
import Slider from "@mui/material/Slider";
import { useTheme } from "@mui/material/styles";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Trouble } from "../../ui/Trouble";
import { clock, dayAndClock } from "../../ui/times";
import { useBoardZone } from "../../ui/useBoardZone";
import { useLanesAhead } from "./useLanes";

const WIDTH = 520;
const HEIGHT = 120;
const DAY = 24 * 3_600_000;

/** How many places will be taken in the hours to come; another width can be supposed, and nothing is saved. */
export function LaneAheadChart({ name, width }: { name: string; width: number }) {
  const { palette } = useTheme();
  const zone = useBoardZone();
  const [supposed, setSupposed] = useState(width);
  const ahead = useLanesAhead(supposed === width ? [] : [`lane.${name}=${supposed}`]);
  const lane = ahead.data?.lanes.find((each) => each.lane === name);
  const begin = Date.now();
  const x = (at: string) => Math.max(0, Math.min(WIDTH, ((new Date(at).getTime() - begin) / DAY) * WIDTH));
  const top = Math.max(supposed, 1, ...(lane?.points ?? []).map((point) => point.taken));
  const y = (taken: number) => HEIGHT - (taken / top) * (HEIGHT - 12);
  const points = lane?.points ?? [];
  const steps = points.map((point, index) => {
    const until = points[index + 1]?.at ?? new Date(begin + DAY).toISOString();
    return { from: x(point.at), to: x(until), taken: point.taken, at: point.at };
  });
  return (
    <Box>
      <Trouble error={ahead.error} />
      <Box
        component="svg"
        role="img"
        aria-label={`places of ${name} that will be taken in the next 24 hours`}
        viewBox={`0 0 ${WIDTH} ${HEIGHT + 18}`}
        sx={{ width: "100%", display: "block" }}
      >
        <line
          x1={0}
          x2={WIDTH}
          y1={y(supposed)}
          y2={y(supposed)}
          stroke={palette.text.secondary}
          strokeDasharray="4 3"
        />
        {lane?.crowded.map((crowd) => (
          <rect
            key={crowd.from}
            x={x(crowd.from)}
            width={Math.max(2, x(crowd.until) - x(crowd.from))}
            y={4}
            height={HEIGHT - 4}
            fill={palette.outcome.amber}
            opacity={0.35}
          />
        ))}
        {steps
          .filter((step) => step.taken > 0)
          .map((step) => (
            <rect
              key={step.at}
              x={step.from}
              width={Math.max(1.5, step.to - step.from)}
              y={y(step.taken)}
              height={HEIGHT - y(step.taken)}
              fill={palette.primary.main}
            />
          ))}
        <line x1={0} x2={WIDTH} y1={HEIGHT} y2={HEIGHT} stroke={palette.divider} />
        {[0, 6, 12, 18].map((hour) => (
          <text key={hour} x={(hour / 24) * WIDTH} y={HEIGHT + 14} fontSize="11" fill={palette.text.secondary}>
            {clock(begin + hour * 3_600_000, zone)}
          </text>
        ))}
      </Box>
      <Box sx={{ display: "flex", alignItems: "center", gap: 2, mt: 1 }}>
        <Typography variant="body2" id="supposed-width" sx={{ whiteSpace: "nowrap" }}>
          If it had {supposed}
        </Typography>
        <Slider
          size="small"
          aria-labelledby="supposed-width"
          value={supposed}
          min={1}
          max={Math.max(8, width * 2)}
          marks
          onChange={(_, value) => setSupposed(value as number)}
        />
      </Box>
      <Typography variant="body2" color="textSecondary">
        {lane?.crowded.length && lane.shut
          ? `It is ${lane.shut}. Until somebody opens it ${lane.crowded[0].jobs.join(", ")} will wait.`
          : lane?.crowded.length
            ? `Crowded ${lane.crowded.length === 1 ? "once" : `${lane.crowded.length} times`}, first from ${dayAndClock(lane.crowded[0].from, zone)} until ${clock(lane.crowded[0].until, zone)}: ${lane.crowded[0].jobs.join(", ")} will wait.`
            : "Nobody will have to wait for it, as far as schedules and usual durations tell."}
        {ahead.data?.playedUntil &&
          ` So many starts come that this is worked out until ${dayAndClock(ahead.data.playedUntil, zone)} only.`}
      </Typography>
    </Box>
  );
}
