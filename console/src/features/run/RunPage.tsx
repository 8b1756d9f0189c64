import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { useParams } from "react-router";
import type { RunDetail } from "../../api/types";
import { Panel } from "../../ui/Panel";
import { StateMark } from "../../ui/StateMark";
import { Trouble } from "../../ui/Trouble";
import { AttemptList } from "./AttemptList";
import { Facts } from "./Facts";
import { ItemList } from "./ItemList";
import { OutputList } from "./OutputList";
import { ProgressBar } from "./ProgressBar";
import { RunActions } from "./RunActions";
import { RunLog } from "./RunLog";
import { StepList } from "./StepList";
import { SweepRows } from "./SweepRows";
import { Timeline } from "./Timeline";
import { useRun } from "./useRun";
import { WhyPanel } from "./WhyPanel";

/** What happened in this run, and why? */
export function RunPage() {
  const { number = "" } = useParams();
  const run = useRun(number);
  if (run.error) return <Trouble error={run.error} />;
  if (!run.data) return null;
  return <Run run={run.data} />;
}

function Run({ run }: { run: RunDetail }) {
  return (
    <>
      <title>{`Run ${run.number} · ${run.job} · Gantrel`}</title>
      <Box sx={{ display: "flex", flexWrap: "wrap", alignItems: "center", gap: 1.5, mb: 0.75 }}>
        <Typography variant="h1">{run.job}</Typography>
        <StateMark state={run.state} />
        <RunActions run={run} />
      </Box>
      <Typography sx={{ mb: 2, maxWidth: 900, overflowWrap: "anywhere" }}>{run.sentence}</Typography>
      <ProgressBar run={run} />
      <Box sx={{ display: "grid", gap: 2, gridTemplateColumns: { xs: "minmax(0, 1fr)", lg: "minmax(0, 1fr) 320px" } }}>
        <Box sx={{ display: "grid", gap: 2, alignContent: "start", minWidth: 0 }}>
          <WhyPanel run={run} />
          <AttemptList run={run} />
          {run.steps && <StepList steps={run.steps} />}
          {run.kind === "sweep" && <SweepRows run={run} />}
          {run.items > 0 && <ItemList run={run} />}
          {run.kind !== "sweep" && run.state !== "waiting" && <OutputList run={run} />}
          {run.kind !== "chain" && <RunLog key={run.number} run={run} />}
        </Box>
        <Box sx={{ display: "grid", gap: 2, alignContent: "start", minWidth: 0 }}>
          <Panel title="About it">
            <Facts run={run} />
          </Panel>
          <Panel title="Timeline">
            <Timeline run={run} />
          </Panel>
        </Box>
      </Box>
    </>
  );
}
