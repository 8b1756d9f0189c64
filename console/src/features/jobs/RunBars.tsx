import Box from "@mui/material/Box";
import { useTheme } from "@mui/material/styles";
import Typography from "@mui/material/Typography";
import { BarChart } from "@mui/x-charts/BarChart";
import { useNavigate } from "react-router";
import type { Run } from "../../api/types";
import { dayAndClock, ownZone } from "../../ui/times";

type Props = {
  /** The newest first, those alone that have what is shown. */
  runs: Run[];
  unit: string;
  of: (run: Run) => number;
  words: (part: number) => string;
};

/** Something of the latest runs, the oldest first; good and bad ends apart. */
export function RunBars({ runs, unit, of, words }: Props) {
  const { palette } = useTheme();
  const navigate = useNavigate();
  const inOrder = [...runs].reverse();
  const good = (run: Run) => run.state === "succeeded" || run.state === "warned";
  const part = (wanted: boolean) => inOrder.map((run) => (good(run) === wanted ? of(run) : null));
  const inWords = (value: number | null) => (value === null ? null : words(value));
  return (
    <Box>
      <BarChart
        height={190}
        margin={{ left: 0, right: 4, top: 8, bottom: 0 }}
        hideLegend
        skipAnimation
        xAxis={[
          {
            data: inOrder.map((run) => run.number),
            scaleType: "band",
            valueFormatter: (number: number, { location }) => {
              const run = inOrder.find((each) => each.number === number);
              return location === "tick" ? "" : `run ${number}, ${run ? dayAndClock(run.plannedAt, ownZone()) : ""}`;
            },
            disableTicks: true,
            height: 8,
          },
        ]}
        yAxis={[{ label: unit, width: 64 }]}
        series={[
          {
            data: part(true),
            label: "ended well",
            color: palette.outcome.fine,
            stack: "a",
            valueFormatter: inWords,
          },
          {
            data: part(false),
            label: "ended badly",
            color: palette.outcome.bad,
            stack: "a",
            valueFormatter: inWords,
          },
        ]}
        onAxisClick={(_, data) => {
          if (data) navigate(`/runs/${data.axisValue}`);
        }}
      />
      <Typography variant="body2" color="textSecondary">
        the latest {inOrder.length} runs; a click opens one
      </Typography>
    </Box>
  );
}
