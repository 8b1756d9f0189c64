import Box from "@mui/material/Box";
import Link from "@mui/material/Link";
import type { ReactNode } from "react";
import { Link as RouterLink } from "react-router";
import type { Job } from "../../api/types";
import { Fact, FactList } from "../../ui/FactList";
import { Panel } from "../../ui/Panel";
import { durationWords, millis } from "../../ui/times";

const words = (duration?: string) => duration && durationWords(millis(duration));

/** What a job's definition says of how its runs behave with nobody watching; nothing where all is as usual. */
export function JobRules({ job }: { job: Job }) {
  const rules = job.rules;
  const facts: [string, ReactNode][] = [
    [
      "While one is running",
      /^\d+$/.test(rules?.whileRunning ?? "") ? `${rules?.whileRunning} may go side by side` : rules?.whileRunning,
    ],
    ["Kept apart by", rules?.apartBy?.join(", ")],
    ["Takes places in", rules?.lanes && <Lanes lanes={rules.lanes} />],
    ["Priority", rules?.priority && `${rules.priority}; 5 is usual, the higher goes first`],
    ["Waits for", rules?.gates?.all?.join("; ")],
    [
      "Waits for so long",
      rules?.gates && `${words(rules.gates.patience)}, then it ${rules.gates.then === "skip" ? "is skipped" : "fails"}`,
    ],
    ["Time limit", words(job.timeLimit)],
    ["Limit over all tries", words(rules?.totalLimit)],
    ["Stopped at", rules?.stopAt],
    ["Has so long to stop", words(rules?.stopPatience)],
    [
      "Unusually long after",
      job.longAfter && `${words(job.longAfter)}${rules?.longAfter ? "" : ", learnt from its good runs"}`,
    ],
    ["Tries", rules?.retry && tries(rules.retry)],
  ];
  const said = facts.filter(([, fact]) => fact);
  return said.length === 0 ? null : (
    <Box sx={{ mb: 2 }}>
      <Panel title="With nobody watching">
        <FactList>
          {said.map(([name, fact]) => (
            <Fact key={name} name={name}>
              {fact}
            </Fact>
          ))}
        </FactList>
      </Panel>
    </Box>
  );
}

function tries(retry: NonNullable<NonNullable<Job["rules"]>["retry"]>): string {
  const codes = retry.exitCodes?.length ? ` with exit code ${retry.exitCodes.join(" or ")}` : "";
  const said = retry.messages?.length ? ` and said ${retry.messages.join(" or ")}` : "";
  const after = `where it ${retry.after?.join(" or ")}${codes}${said}`;
  return `${retry.tries}, the second ${words(retry.pause)} after the first, ${after}`;
}

function Lanes({ lanes }: { lanes: Record<string, number> }) {
  return Object.entries(lanes).map(([lane, places], i) => (
    <span key={lane}>
      {i > 0 && ", "}
      <Link component={RouterLink} to={`/lanes/${lane}`}>
        {lane}
      </Link>
      {places > 1 && ` (${places} places)`}
    </span>
  ));
}
