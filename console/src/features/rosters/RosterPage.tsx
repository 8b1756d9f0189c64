import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { useParams } from "react-router";
import { NotYet } from "../../ui/Asked";
import { useMe } from "../../ui/me";
import { Panel } from "../../ui/Panel";
import { Definition } from "../jobs/Definition";
import { RetireButton } from "../revisions/RetireButton";
import { RevisionsPanel } from "../revisions/RevisionsPanel";
import { DrawnRows } from "./DrawnRows";
import { HandledList } from "./HandledList";
import { RosterEditor } from "./RosterEditor";
import { RowsTable } from "./RowsTable";
import { useRoster } from "./useRosters";

/** What rows are there, and what became of each last? */
export function RosterPage() {
  const { name = "" } = useParams();
  const roster = useRoster(name);
  const me = useMe();
  const [editing, setEditing] = useState(false);
  if (!roster.data) return <NotYet query={roster} />;
  const { team, about, revision, source, key, atOnce, afterFailure, definition, tag } = roster.data;
  const mayDefine = me.teams[team]?.includes("define-jobs") ?? false;
  return (
    <>
      <title>{`${name} · Gantrel`}</title>
      <Box sx={{ display: "flex", flexWrap: "wrap", alignItems: "baseline", gap: 1.5, mb: 0.5 }}>
        <Typography variant="h1">{name}</Typography>
        <Typography color="textSecondary">
          roster of {team}, revision {revision}
        </Typography>
        {me.teams[team]?.includes("retire-jobs") && (
          <Box sx={{ ml: "auto" }}>
            <RetireButton nouns="rosters" noun="roster" name={name} then="/rosters" stale={["rosters"]} />
          </Box>
        )}
      </Box>
      <Typography sx={{ mb: 2 }}>
        {about && `${about.replace(/\.$/, "")}. `}
        {atOnce === 1 ? "One row after the other" : `${atOnce} rows at once`};{" "}
        {afterFailure === "stop" ? "stops at the first failure" : "carries on after a failure"}
        {key.length > 0 && `; each ${key.join(" and ")} is handled once`}.
      </Typography>
      <Box sx={{ display: "grid", gap: 2, gridTemplateColumns: "minmax(0, 1fr)" }}>
        {source ? <DrawnRows roster={roster.data} /> : <RowsTable roster={roster.data} />}
        {key.length > 0 && <HandledList roster={name} mayForget={mayDefine} />}
        {editing ? (
          <RosterEditor
            name={name}
            written={definition}
            tag={tag}
            onSaved={() => setEditing(false)}
            onLeave={() => setEditing(false)}
          />
        ) : (
          <Panel title="Definition">
            {!source && (
              <Typography color="textSecondary" sx={{ mb: 1 }}>
                The table above is what counts. Rows named here take its place only when they are changed here.
              </Typography>
            )}
            <Definition text={definition} />
            {mayDefine && (
              <Button size="small" sx={{ mt: 1 }} onClick={() => setEditing(true)}>
                Edit the definition
              </Button>
            )}
            <RevisionsPanel nouns="rosters" name={name} tag={tag} mayPutBack={mayDefine} stale={["rosters"]} />
          </Panel>
        )}
      </Box>
    </>
  );
}
