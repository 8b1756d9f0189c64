import Box from "@mui/material/Box";
import Link from "@mui/material/Link";
import type { ReactNode } from "react";
import { Link as RouterLink } from "react-router";
import type { RunDetail } from "../../api/types";
import { MONO } from "../../theme";
import { Fact, FactList } from "../../ui/FactList";
import { LongText } from "../../ui/LongText";
import { Time } from "../../ui/Time";
import { durationWords, millis } from "../../ui/times";

/** Values, identity, origin, and how long it took against its usual. */
export function Facts({ run }: { run: RunDetail }) {
  return (
    <FactList>
      {Object.entries(run.parameters).map(([name, value]) => (
        <Fact key={name} name={name}>
          <Box component="span" sx={{ fontFamily: MONO, overflowWrap: "anywhere" }}>
            {value ? <LongText text={value} /> : "(empty)"}
          </Box>
        </Fact>
      ))}
      <Fact name="planned for">
        <Time at={run.plannedAt} zone={run.zone} />
      </Fact>
      {run.deadline && (
        <Fact name="deadline">
          <Time at={run.deadline} zone={run.zone} />
          {run.late && (
            <Box component="span" sx={{ color: "error.main", fontWeight: 650 }}>
              {" "}
              late
            </Box>
          )}
        </Fact>
      )}
      {run.took && (
        <Fact name="took">
          {durationWords(millis(run.took))}
          {run.usual && (
            <Box component="span" sx={{ color: "text.secondary" }}>
              {" "}
              · usually {durationWords(millis(run.usual))}
            </Box>
          )}
        </Fact>
      )}
      {run.unusuallyLong && <Fact name="length">unusually long</Fact>}
      {run.attempt > 1 && <Fact name="try">{run.attempt}</Fact>}
      {Object.entries(run.results ?? {}).map(([name, value]) => (
        <Fact key={`gave ${name}`} name={`gave ${name}`}>
          {value}
        </Fact>
      ))}
      {run.actsAs && <Fact name="acts as">{run.actsAs}</Fact>}
      {run.exitCode !== undefined && <Fact name="exit code">{run.exitCode}</Fact>}
      <Fact name="team">{run.team}</Fact>
      <Fact name="job">
        <To to={`/jobs/${run.job}`}>{run.job}</To>, revision {run.revision}
        {run.newerRevision && `, which it keeps; the job is at ${run.newerRevision} by now`}
      </Fact>
      {run.parent !== undefined && (
        <Fact name="step of">
          <To to={`/runs/${run.parent}`}>run {run.parent}</To>
        </Fact>
      )}
      {run.cause === "repeat" && (
        <Fact name="repeats">
          <To to={`/runs/${run.causeRef}`}>run {run.causeRef}</To>
        </Fact>
      )}
      {run.repeats.length > 0 && (
        <Fact name="repeated by">
          {run.repeats.map((number) => (
            <To key={number} to={`/runs/${number}`}>
              run {number}{" "}
            </To>
          ))}
        </Fact>
      )}
      {run.takenBy && <Fact name="seen to by">{run.takenBy}</Fact>}
    </FactList>
  );
}

function To({ to, children }: { to: string; children: ReactNode }) {
  return (
    <Link component={RouterLink} to={to}>
      {children}
    </Link>
  );
}
