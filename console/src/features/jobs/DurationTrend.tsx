import Typography from "@mui/material/Typography";
import type { Run } from "../../api/types";
import { durationWords, millis } from "../../ui/times";
import { RunBars } from "./RunBars";

/** How long the latest runs took. */
export function DurationTrend({ runs }: { runs: Run[] }) {
  const timed = runs.filter((run) => run.took);
  if (timed.length < 2) return <Typography color="textSecondary">There are too few runs yet to tell.</Typography>;
  const longest = Math.max(...timed.map((run) => millis(run.took ?? "")));
  const unit = longest > 2 * 3_600_000 ? 3_600_000 : longest > 120_000 ? 60_000 : 1000;
  return (
    <RunBars
      runs={timed}
      unit={unit === 3_600_000 ? "hours" : unit === 60_000 ? "minutes" : "seconds"}
      of={(run) => millis(run.took ?? "") / unit}
      words={(part) => durationWords(part * unit)}
    />
  );
}
