import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { useParams } from "react-router";
import { Panel } from "../../ui/Panel";
import { Trouble } from "../../ui/Trouble";
import { Definition } from "../jobs/Definition";
import { RowsTable } from "./RowsTable";
import { useRoster } from "./useRosters";

/** What rows are there, and what became of each last? */
export function RosterPage() {
  const { name = "" } = useParams();
  const roster = useRoster(name);
  if (roster.error) return <Trouble error={roster.error} />;
  if (!roster.data) return null;
  const { team, about, revision, source, key, atOnce, afterFailure, definition } = roster.data;
  return (
    <>
      <title>{`${name} · Gantrel`}</title>
      <Box sx={{ display: "flex", flexWrap: "wrap", alignItems: "baseline", gap: 1.5, mb: 0.5 }}>
        <Typography variant="h1">{name}</Typography>
        <Typography color="textSecondary">
          roster of {team}, revision {revision}
        </Typography>
      </Box>
      <Typography sx={{ mb: 2 }}>
        {about && `${about.replace(/\.$/, "")}. `}
        {atOnce === 1 ? "One row after the other" : `${atOnce} rows at once`};{" "}
        {afterFailure === "stop" ? "stops at the first failure" : "carries on after a failure"}
        {key.length > 0 && `; each ${key.join(" and ")} is handled once`}.
      </Typography>
      <Box sx={{ display: "grid", gap: 2, gridTemplateColumns: "minmax(0, 1fr)" }}>
        {source ? <Panel title="Rows">Drawn at each start from {source}.</Panel> : <RowsTable roster={roster.data} />}
        <Panel title="Definition">
          <Definition text={definition} />
        </Panel>
      </Box>
    </>
  );
}
