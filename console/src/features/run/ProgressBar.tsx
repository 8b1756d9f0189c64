import Box from "@mui/material/Box";
import LinearProgress from "@mui/material/LinearProgress";
import type { RunDetail } from "../../api/types";

/** How far a run says it is. */
export function ProgressBar({ run }: { run: RunDetail }) {
  const { progress } = run;
  if (!progress || run.state !== "running") return null;
  const percent = progress.share === undefined ? undefined : Math.round(progress.share * 100);
  return (
    <Box sx={{ mb: 2, maxWidth: 900 }}>
      <LinearProgress
        aria-label="Progress"
        variant={percent === undefined ? "indeterminate" : "determinate"}
        value={percent}
        sx={{ height: 10, borderRadius: 1 }}
      />
      <Box sx={{ display: "flex", gap: 1, fontSize: "0.86rem", mt: 0.5 }}>
        {percent !== undefined && <b>{percent} %</b>}
        <span>{progress.text}</span>
      </Box>
    </Box>
  );
}
