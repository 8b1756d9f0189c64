import Box from "@mui/material/Box";
import { useTheme } from "@mui/material/styles";
import Typography from "@mui/material/Typography";
import { BarChart } from "@mui/x-charts/BarChart";
import type { LaneDetail } from "../../api/types";
import { clock, dayAndClock } from "../../ui/times";
import { useBoardZone } from "../../ui/useBoardZone";

/** How full a lane was, hour by hour: the share of its places that was taken. */
export function LaneHours({ hours }: { hours: LaneDetail["hours"] }) {
  const { palette } = useTheme();
  const zone = useBoardZone();
  const days = hours.length / 24;
  const hourOf = (at: string) => clock(at, zone).slice(0, 2);
  const shortDay = (at: string) => dayAndClock(at, zone).replace(/ \d\d:\d\d$/, "");
  if (hours.every((hour) => hour.most === 0)) {
    return <Typography color="textSecondary">Nobody was in it in the last {days} days.</Typography>;
  }
  return (
    <Box>
      <BarChart
        height={170}
        margin={{ left: 0, right: 4, top: 8, bottom: 0 }}
        hideLegend
        skipAnimation
        xAxis={[
          {
            data: hours.map((hour) => hour.at),
            scaleType: "band",
            valueFormatter: (at: string, { location }) =>
              location !== "tick" ? dayAndClock(at, zone) : hourOf(at) === "00" ? shortDay(at) : clock(at, zone),
            // hours are those of UTC, and need not be full ones here
            tickInterval: (at: string) => hourOf(at) === "00" || (days <= 3 && hourOf(at) === "12"),
            // there is no room for words at the very end
            tickLabelInterval: (at: string) => at < (hours.at(-3)?.at ?? ""),
            height: 34,
          },
        ]}
        yAxis={[{ label: "% taken", width: 56, min: 0, max: 100 }]}
        series={[
          {
            data: hours.map((hour) => hour.share * 100),
            label: "taken",
            color: palette.outcome.fine,
            valueFormatter: (value, { dataIndex }) =>
              `${Math.round(value ?? 0)} % of the hour, at most ${hours[dataIndex].most} of ${hours[dataIndex].width} at once`,
          },
        ]}
      />
      <Typography variant="body2" color="textSecondary">
        the last {days} days, hour by hour
      </Typography>
    </Box>
  );
}
