import Box from "@mui/material/Box";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { useParams } from "react-router";
import type { RunDetail } from "../../api/types";
import { Asked } from "../../ui/Asked";
import { Panel } from "../../ui/Panel";
import { StateMark } from "../../ui/StateMark";
import { Time } from "../../ui/Time";
import { ChainPanel } from "../chain/ChainPanel";
import { StepDetails } from "../chain/StepDetails";
import { Lineage } from "../events/Lineage";
import { AttemptList } from "./AttemptList";
import { Facts } from "./Facts";
import { ItemList } from "./ItemList";
import { OutputList } from "./OutputList";
import { ProgressBar } from "./ProgressBar";
import { RunActions } from "./RunActions";
import { RunLog } from "./RunLog";
import { SweepRows } from "./SweepRows";
import { Timeline } from "./Timeline";
import { useRun } from "./useRun";
import { WhyPanel } from "./WhyPanel";

/** What happened in this run, and why? */
export function RunPage() {
  const { number = "" } = useParams();
  const run = useRun(number);
  return <Asked query={run}>{(found) => <Run key={found.number} run={found} />}</Asked>;
}

function Run({ run }: { run: RunDetail }) {
  const chain = run.kind === "chain";
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
      <Chain run={run} />
      <Box
        sx={{
          display: "grid",
          gap: 2,
          gridTemplateColumns: {
            xs: "minmax(0, 1fr)",
            lg: chain ? "minmax(0, 1fr)" : "minmax(0, 1fr) 320px",
            xl: chain ? "minmax(0, 1fr)" : "minmax(0, 1fr) 440px",
          },
        }}
      >
        <Box sx={{ display: "grid", gap: 2, alignContent: "start", minWidth: 0 }}>
          <WhyPanel run={run} />
          <AttemptList run={run} />
          {run.kind === "sweep" && <SweepRows run={run} />}
          {run.items > 0 && <ItemList run={run} />}
          {run.kind !== "sweep" && run.state !== "waiting" && <OutputList run={run} />}
          {run.kind !== "chain" && run.kind !== "sweep" && <RunLog key={run.number} run={run} />}
        </Box>
        <Box
          sx={{
            display: "grid",
            gap: 2,
            alignContent: "start",
            minWidth: 0,
            gridTemplateColumns: { xs: "minmax(0, 1fr)", md: chain ? "1fr 1fr" : "minmax(0, 1fr)" },
          }}
        >
          <Panel title="About it">
            <Facts run={run} />
          </Panel>
          <Lineage run={run.number} zone={run.zone} />
          <Panel title="Timeline">
            <Timeline run={run} />
          </Panel>
        </Box>
      </Box>
    </>
  );
}

/** The steps of a chain, over the whole width: they are what one comes for. */
function Chain({ run }: { run: RunDetail }) {
  return (
    <Box sx={{ display: "grid", gap: 2, mb: run.steps ? 2 : 0, gridTemplateColumns: "minmax(0, 1fr)" }}>
      {run.chain?.held && (
        <Paper role="note" sx={{ p: 1.25, borderLeft: 4, borderLeftColor: "outcome.amber" }}>
          Held by {run.chain.held.person} since <Time at={run.chain.held.since} zone={run.zone} />
          {run.chain.held.why && `: ${run.chain.held.why}`}. It begins no further step.
        </Paper>
      )}
      {run.steps && (
        <ChainPanel
          name={`run-${run.number}`}
          steps={run.steps}
          critical={run.chain?.critical}
          zone={run.zone}
          live={run.state === "running"}
          details={(step, close) => <StepDetails key={step.step} step={step} run={run} onClose={close} />}
        />
      )}
    </Box>
  );
}
