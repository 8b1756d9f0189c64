import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Link as RouterLink, useLocation, useParams } from "react-router";
import type { Job, Run } from "../../api/types";
import { Asked } from "../../ui/Asked";
import { Panel } from "../../ui/Panel";
import { SupposedChain } from "../chain/SupposedChain";
import { OutsideCalls } from "../events/OutsideCalls";
import { TriggerList } from "../events/TriggerList";
import { RunTable } from "../history/RunTable";
import { HoldNote } from "../lanes/HoldNote";
import { useHoldsOf } from "../lanes/useLanes";
import { RetireButton } from "../revisions/RetireButton";
import { RevisionsPanel } from "../revisions/RevisionsPanel";
import { WhoIsTold } from "../telling/WhoIsTold";
import { Definition } from "./Definition";
import { DurationTrend } from "./DurationTrend";
import { JobRules } from "./JobRules";
import { ScheduleList } from "./ScheduleList";
import { StartDialog } from "./StartDialog";
import { useJob, useRunsOf } from "./useJobs";
import { ValueTrend } from "./ValueTrend";

/** What is this job, when does it run, and how has it been doing? */
export function JobPage() {
  const { name = "" } = useParams();
  const job = useJob(name);
  return <Asked query={job}>{({ body, tag }) => <Sheet key={body.name} job={body} tag={tag} />}</Asked>;
}

function Sheet({ job, tag }: { job: Job; tag?: string }) {
  const [starting, setStarting] = useState(false);
  const runs = useRunsOf(job.name, 60);
  const holds = useHoldsOf(job.name);
  // what the save found out by asking other systems is not asked again with each look at the page
  const found: string[] = useLocation().state?.warnings ?? [];
  return (
    <>
      <title>{`${job.name} · Gantrel`}</title>
      <Box sx={{ display: "flex", flexWrap: "wrap", alignItems: "center", gap: 1.5, mb: 0.5 }}>
        <Typography variant="h1">{job.name}</Typography>
        <Typography color="textSecondary">
          {job.kind} of {job.team}, revision {job.revision}
          {job.retired && " · retired"}
        </Typography>
        <Box sx={{ ml: "auto", display: "flex", flexWrap: "wrap", gap: 1 }}>
          {job.mayDo.includes("retire-jobs") && !job.retired && (
            <RetireButton
              nouns="jobs"
              noun="job"
              name={job.name}
              then="/jobs"
              stale={["job", "jobs", "schedules", "board"]}
              usedBy={job.usedBy}
              note={goesOn(runs.data ?? [])}
            />
          )}
          {job.mayDo.includes("hold-work") && (
            <Button component={RouterLink} to={`/holds?on=job&name=${job.name}`}>
              Hold
            </Button>
          )}
          {job.mayDo.includes("define-jobs") && (
            <Button component={RouterLink} to={`/jobs/${job.name}/edit`} variant="outlined">
              Edit
            </Button>
          )}
          {job.mayDo.includes("start-runs") && !job.retired && (
            <Button variant="contained" onClick={() => setStarting(true)}>
              Start
            </Button>
          )}
        </Box>
      </Box>
      <Typography sx={{ mb: 2 }}>{job.about || "Nobody has written down what it is for."}</Typography>
      {holds.data?.map((hold) => (
        <HoldNote key={hold.id} hold={hold} />
      ))}
      {job.usedBy && (
        <Typography color="textSecondary" sx={{ mb: 2 }}>
          Used by {job.usedBy.join(", ")}.
        </Typography>
      )}
      {job.does?.kind === "outside" && (
        <Box sx={{ mb: 2 }}>
          <OutsideCalls job={job.name} />
        </Box>
      )}
      {job.triggers && (
        <Box sx={{ mb: 2 }}>
          <Panel title="Triggers">
            <TriggerList job={job} />
          </Panel>
        </Box>
      )}
      {[...new Set([...job.warnings, ...found])].map((warning) => (
        <Paper key={warning} role="note" sx={{ p: 1.25, mb: 2, borderLeft: 4, borderLeftColor: "outcome.amber" }}>
          {warning}
        </Paper>
      ))}
      <Box sx={{ display: "grid", gap: 2, gridTemplateColumns: { xs: "minmax(0, 1fr)", lg: "1fr 1fr" }, mb: 2 }}>
        <Panel title="Schedules">
          <ScheduleList job={job} />
        </Panel>
        <Panel title="How long it takes">
          <DurationTrend runs={runs.data ?? []} />
        </Panel>
        <ValueTrend runs={runs.data ?? []} />
      </Box>
      <JobRules job={job} />
      {job.steps && (
        <Box sx={{ mb: 2 }}>
          <SupposedChain key={job.name} job={job} steps={job.steps} />
          <Typography color="textSecondary" sx={{ mt: 0.75, fontSize: "0.82rem" }}>
            It fails where a step that matters fails and no step that follows it on failure does its work; it ends with
            warnings where one does, or where a step that matters ends with warnings.
          </Typography>
        </Box>
      )}
      <Box sx={{ mb: 2 }}>
        <Panel title="Who is told">
          <WhoIsTold job={job.name} zone={job.schedules[0]?.zone} />
        </Panel>
      </Box>
      <Panel title="Latest runs" bare>
        {runs.data && runs.data.length > 0 ? (
          <RunTable runs={runs.data.slice(0, 8)} hide={["job"]} />
        ) : (
          <Typography color="textSecondary">It has never run. Start it by hand to try it.</Typography>
        )}
        <Link
          component={RouterLink}
          to={`/history?job=${job.name}`}
          sx={{ display: "inline-block", my: 1, overflowWrap: "anywhere" }}
        >
          all runs of {job.name}
        </Link>
      </Panel>
      <Panel title="Definition">
        <Definition text={job.definition} />
        <Box sx={{ mt: 1.5 }}>
          <RevisionsPanel
            nouns="jobs"
            name={job.name}
            tag={tag}
            mayPutBack={job.mayDo.includes("define-jobs") && !job.retired}
            stale={["job", "jobs", "schedules"]}
          />
        </Box>
      </Panel>
      {starting && <StartDialog job={job} onClose={() => setStarting(false)} />}
    </>
  );
}

/** What retiring the job leaves alone. */
function goesOn(runs: Run[]): string | undefined {
  const open = runs.filter((run) => run.state === "waiting" || run.state === "running");
  if (open.length === 0) return undefined;
  const many =
    open.length === 1 ? "One run of it has not ended and goes" : `${open.length} runs of it have not ended and go`;
  return `${many} on; cancel what is not wanted.`;
}
