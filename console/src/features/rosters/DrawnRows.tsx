import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import { Link as RouterLink } from "react-router";
import type { Roster } from "../../api/types";
import { Panel } from "../../ui/Panel";
import { SweepRows } from "../run/SweepRows";
import { useRun } from "../run/useRun";

/** Rows that are drawn from data are known from the last run over them. */
export function DrawnRows({ roster }: { roster: Roster }) {
  const run = useRun(roster.lastSweep ? String(roster.lastSweep) : "");
  return (
    <>
      <Panel title="Rows">
        Drawn at each start from {roster.source}.{" "}
        {roster.lastSweep ? (
          <>
            Below are those of the last time,{" "}
            <Link component={RouterLink} to={`/runs/${roster.lastSweep}`}>
              run {roster.lastSweep}
            </Link>
            {run.data && ` of ${run.data.job}`}.
          </>
        ) : (
          <Typography component="span" color="textSecondary">
            No job has run over it yet; a rehearsal shows the first of them.
          </Typography>
        )}
      </Panel>
      {run.data && <SweepRows run={run.data} />}
    </>
  );
}
