import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import Paper from "@mui/material/Paper";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Link as RouterLink, useParams } from "react-router";
import type { InLane, LaneDetail } from "../../api/types";
import { NotYet } from "../../ui/Asked";
import { Panel } from "../../ui/Panel";
import { Time } from "../../ui/Time";
import { Trouble } from "../../ui/Trouble";
import { CloseDialog } from "./CloseDialog";
import { LaneAheadChart } from "./LaneAheadChart";
import { LaneEditor } from "./LaneEditor";
import { LaneHours } from "./LaneHours";
import { Places } from "./Places";
import { useLane, useWorkLane } from "./useLanes";

/** Who is in this lane, who waits, and how full is it? */
export function LanePage() {
  const { name = "" } = useParams();
  const lane = useLane(name);
  if (!lane.data) return <NotYet query={lane} />;
  return <Sheet key={name} page={lane.data} tag={lane.data.tag} />;
}

function Sheet({ page, tag }: { page: LaneDetail; tag?: string }) {
  const { lane } = page;
  const work = useWorkLane(lane.name);
  const [editing, setEditing] = useState(false);
  const [closing, setClosing] = useState(false);
  const tooBig = page.jobs.filter((job) => job.places > lane.width);
  const mayWork = page.mayDo.includes("work-lanes");
  return (
    <>
      <title>{`${lane.name} · Gantrel`}</title>
      <Box sx={{ display: "flex", flexWrap: "wrap", alignItems: "center", gap: 1.5, mb: 0.5 }}>
        <Typography variant="h1">{lane.name}</Typography>
        <Places taken={lane.taken} width={lane.width} />
        <Typography color="textSecondary">
          lane of {lane.team}
          {lane.forTeams.length > 0 && `, for ${lane.forTeams.join(", ")} too`}
        </Typography>
        {mayWork && (
          <Box sx={{ ml: "auto", display: "flex", gap: 1, alignItems: "center" }}>
            <Width
              lane={lane.width}
              onSet={(width) => work.mutate({ method: "PUT", part: "width", body: { width } })}
            />
            {lane.closedBy ? (
              <Button variant="contained" onClick={() => work.mutate({ method: "DELETE", part: "closure" })}>
                Open
              </Button>
            ) : (
              <Button variant="outlined" onClick={() => setClosing(true)}>
                Close
              </Button>
            )}
          </Box>
        )}
      </Box>
      <Typography sx={{ mb: 2 }}>{lane.about || "Nobody has written down what it is for."}</Typography>
      <Trouble error={work.error} />
      {closing && (
        <CloseDialog
          name={lane.name}
          onClose={() => setClosing(false)}
          onYes={(why) => {
            setClosing(false);
            work.mutate({ method: "PUT", part: "closure", body: { why } });
          }}
        />
      )}
      {lane.closedBy && (
        <Note>
          Closed by {lane.closedBy}
          {lane.closedWhy && `: ${lane.closedWhy}`}. What is in it goes on; nothing more begins.
        </Note>
      )}
      {lane.hold && <Note>On hold: {lane.hold}</Note>}
      {lane.width !== lane.definedWidth && (
        <Note>
          Its definition gives it {lane.definedWidth}; somebody has changed that to {lane.width} until the definition is
          changed.
        </Note>
      )}
      {tooBig.length > 0 && (
        <Note>
          {tooBig.map((job) => (job.step ? `${job.job} (step ${job.step})` : job.job)).join(", ")}{" "}
          {tooBig.length === 1 ? "takes" : "take"} more places than it has, and {tooBig.length === 1 ? "waits" : "wait"}{" "}
          until it is wider.
        </Note>
      )}
      <Box sx={{ display: "grid", gap: 2, gridTemplateColumns: { xs: "minmax(0, 1fr)", lg: "1fr 1fr" }, mb: 2 }}>
        <Panel title="In it now">
          <Runs runs={page.in} none="Nobody is in it." />
        </Panel>
        <Panel title="Waiting">
          <Runs runs={page.queue} none="Nobody waits for it." />
          {lane.waiting > page.queue.length && (
            <Typography color="textSecondary">… and {lane.waiting - page.queue.length} more</Typography>
          )}
        </Panel>
        <Panel title="How full it was">
          <LaneHours hours={page.hours} />
        </Panel>
        <Panel title="The next 24 hours">
          <LaneAheadChart name={lane.name} width={lane.width} />
        </Panel>
      </Box>
      <Panel title="Jobs that need it">
        {page.jobs.length === 0 && <Typography color="textSecondary">None that you may see.</Typography>}
        {page.jobs.map((job) => (
          <Box key={`${job.job} ${job.step}`} sx={{ fontSize: "0.88rem", py: 0.25 }}>
            <Link component={RouterLink} to={`/jobs/${job.job}`}>
              {job.job}
            </Link>
            {job.step && `, its step ${job.step},`} of {job.team},{" "}
            {job.places === 1 ? "one place" : `${job.places} places`}
          </Box>
        ))}
      </Panel>
      {page.mayDo.includes("define-jobs") && !editing && (
        <Button sx={{ mt: 2 }} onClick={() => setEditing(true)}>
          Edit the definition
        </Button>
      )}
      {editing && (
        <Box sx={{ mt: 2 }}>
          <LaneEditor
            name={lane.name}
            written={page.definition}
            tag={tag}
            onSaved={() => setEditing(false)}
            onLeave={() => setEditing(false)}
          />
        </Box>
      )}
    </>
  );
}

function Note({ children }: { children: React.ReactNode }) {
  return (
    <Paper role="note" sx={{ p: 1.25, mb: 2, borderLeft: 4, borderLeftColor: "outcome.amber" }}>
      {children}
    </Paper>
  );
}

function Width({ lane, onSet }: { lane: number; onSet: (width: number) => void }) {
  const [typed, setTyped] = useState(String(lane));
  const wanted = Number(typed);
  const fits = Number.isInteger(wanted) && wanted >= 1 && wanted <= 1000;
  return (
    <Box
      component="form"
      onSubmit={(event) => {
        event.preventDefault();
        if (fits) onSet(wanted);
      }}
      sx={{ display: "flex", gap: 0.5 }}
    >
      <TextField
        size="small"
        label="Width"
        value={typed}
        error={!fits}
        onChange={(event) => setTyped(event.target.value)}
        sx={{ width: 84 }}
      />
      <Button type="submit" disabled={!fits || wanted === lane}>
        Set
      </Button>
    </Box>
  );
}

function Runs({ runs, none }: { runs: InLane[]; none: string }) {
  if (runs.length === 0) return <Typography color="textSecondary">{none}</Typography>;
  return (
    <Box component="ol" sx={{ m: 0, p: 0, listStyle: "none", display: "grid", gap: 0.8, fontSize: "0.88rem" }}>
      {runs.map((run, index) => (
        <Box component="li" key={run.run ?? `other-${index}`} sx={{ overflowWrap: "anywhere" }}>
          {run.run === undefined ? (
            "a run of another team"
          ) : (
            <Link component={RouterLink} to={`/runs/${run.run}`}>
              {run.job} · run {run.run}
            </Link>
          )}
          {run.places > 1 && `, ${run.places} places`}, since <Time at={run.since} as="relative" />
          {run.what && <Box sx={{ color: "text.secondary" }}>waits for {run.what}</Box>}
        </Box>
      ))}
    </Box>
  );
}
