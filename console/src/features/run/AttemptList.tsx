import Box from "@mui/material/Box";
import Link from "@mui/material/Link";
import type { RunDetail } from "../../api/types";
import { Panel } from "../../ui/Panel";
import { StateMark } from "../../ui/StateMark";
import { Time } from "../../ui/Time";

/** The tries of a run that are over, each with its log. */
export function AttemptList({ run }: { run: RunDetail }) {
  if (!run.attempts) return null;
  return (
    <Panel title="Tries">
      <Box component="ol" sx={{ m: 0, p: 0, listStyle: "none", display: "grid", gap: 0.8, fontSize: "0.88rem" }}>
        {run.attempts.map((attempt) => (
          <Box component="li" key={attempt.attempt} sx={{ display: "flex", flexWrap: "wrap", gap: 1.25 }}>
            <b>{attempt.attempt}</b>
            <StateMark state={attempt.state} />
            <Time at={attempt.startedAt} zone={run.zone} as="seconds" />
            <Box sx={{ flex: 1, minWidth: 160, overflowWrap: "anywhere" }}>{attempt.message}</Box>
            <Link href={`/api/v1/runs/${run.number}/log?try=${attempt.attempt}`} target="_blank">
              log
            </Link>
          </Box>
        ))}
        {run.retryAt && (
          <Box component="li">
            the next comes <Time at={run.retryAt} zone={run.zone} as="seconds" />
          </Box>
        )}
      </Box>
    </Panel>
  );
}
