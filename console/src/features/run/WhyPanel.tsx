import Box from "@mui/material/Box";
import Link from "@mui/material/Link";
import { Link as RouterLink } from "react-router";
import type { RunDetail } from "../../api/types";
import { Panel } from "../../ui/Panel";
import { Time } from "../../ui/Time";
import { durationWords, millis } from "../../ui/times";
import { useWhy } from "./useRun";

/** For what a run waits, what would have to happen, and for what it waited before. */
export function WhyPanel({ run }: { run: RunDetail }) {
  const why = useWhy(run);
  if (!why.data) return null;
  const { waitsFor, toStart, keeps, inTheWay, waits, gates, gatesSkipped } = why.data;
  const row = waitsFor !== undefined && run.state === "running";
  if (!waitsFor && waits.length === 0 && gates.length === 0 && !gatesSkipped) return null;
  return (
    <Panel title={row ? "Why its next row waits" : run.state === "waiting" ? "Why it waits" : "What it waited for"}>
      <Box sx={{ display: "grid", gap: 1, fontSize: "0.88rem", overflowWrap: "anywhere" }}>
        {waitsFor && (
          <Box>
            {row ? "Its next row" : "It"} waits for {waitsFor}.
          </Box>
        )}
        {toStart && (
          <Box>
            <b>{row ? "It begins when" : "It starts when"}</b> {toStart}.
          </Box>
        )}
        {keeps && <Box>It keeps {keeps}.</Box>}
        {inTheWay.length > 0 && (
          <Box>
            In the way:{" "}
            {inTheWay.map((other, index) => (
              <span key={other.run ?? `other-${index}`}>
                {index > 0 && ", "}
                {other.run === undefined ? (
                  "a run of another team"
                ) : (
                  <Link component={RouterLink} to={`/runs/${other.run}`}>
                    {other.job} · run {other.run}
                  </Link>
                )}
              </span>
            ))}
          </Box>
        )}
        {gatesSkipped && <Box>Its gates were skipped by {gatesSkipped}.</Box>}
        {waits.length > 0 && (
          <Box component="table" sx={{ borderCollapse: "collapse", "& td": { pr: 2, py: 0.25, verticalAlign: "top" } }}>
            <tbody>
              {waits.map((wait) => (
                <tr key={wait.since}>
                  <td>
                    <Time at={wait.since} zone={run.zone} as="seconds" />
                  </td>
                  <td style={{ whiteSpace: "nowrap" }}>
                    {durationWords(millis(wait.took))}
                    {wait.until ? "" : " so far"}
                  </td>
                  <td>{wait.what}</td>
                </tr>
              ))}
            </tbody>
          </Box>
        )}
        {gates.length > 0 && (
          <Box component="ul" sx={{ m: 0, pl: 2.5 }}>
            {gates.map((gate) => (
              <li key={gate.place}>
                <b>{gate.open ? "open" : "shut"}</b> {gate.gate}: {gate.saw} (<Time at={gate.seenAt} as="relative" />)
              </li>
            ))}
          </Box>
        )}
      </Box>
    </Panel>
  );
}
