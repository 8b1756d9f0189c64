import Box from "@mui/material/Box";
import { useTheme } from "@mui/material/styles";
import Typography from "@mui/material/Typography";
import { BarChart } from "@mui/x-charts/BarChart";
import { useNavigate } from "react-router";
import type { Run } from "../../api/types";
import { dayAndClock, durationWords, millis, ownZone } from "../../ui/times";

/** How long the latest runs took, the oldest first; good and bad ends apart. */
export function DurationTrend({ runs }: { runs: Run[] }) {
  const { palette } = useTheme();
  const navigate = useNavigate();
  const timed = runs.filter((run) => run.took).reverse();
  if (timed.length < 2) return <Typography color="textSecondary">There are too few runs yet to tell.</Typography>;
  const longest = Math.max(...timed.map((run) => millis(run.took ?? "")));
  const unit = longest > 2 * 3_600_000 ? 3_600_000 : longest > 120_000 ? 60_000 : 1000;
  const unitName = unit === 3_600_000 ? "hours" : unit === 60_000 ? "minutes" : "seconds";
  const good = (run: Run) => run.state === "succeeded" || run.state === "warned";
  const value = (run: Run, wanted: boolean) => (good(run) === wanted ? millis(run.took ?? "") / unit : null);
  const words = (part: number | null) => (part === null ? null : durationWords(part * unit));
  return (
    <Box>
      <BarChart
        height={190}
        margin={{ left: 0, right: 4, top: 8, bottom: 0 }}
        hideLegend
        skipAnimation
        xAxis={[
          {
            data: timed.map((run) => run.number),
            scaleType: "band",
            valueFormatter: (number: number, { location }) => {
              const run = timed.find((each) => each.number === number);
              return location === "tick" ? "" : `run ${number}, ${run ? dayAndClock(run.plannedAt, ownZone()) : ""}`;
            },
            disableTicks: true,
            height: 8,
          },
        ]}
        yAxis={[{ label: unitName, width: 64 }]}
        series={[
          {
            data: timed.map((run) => value(run, true)),
            label: "ended well",
            color: palette.outcome.fine,
            stack: "a",
            valueFormatter: words,
          },
          {
            data: timed.map((run) => value(run, false)),
            label: "ended badly",
            color: palette.outcome.bad,
            stack: "a",
            valueFormatter: words,
          },
        ]}
        onAxisClick={(_, data) => {
          if (data) navigate(`/runs/${data.axisValue}`);
        }}
      />
      <Typography variant="body2" color="textSecondary">
        the latest {timed.length} runs; a click opens one
      </Typography>
    </Box>
  );
}
