import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { Link as RouterLink } from "react-router";
import type { Attention } from "../../api/types";
import { useMe } from "../../ui/me";
import { STATE_WORDS } from "../../ui/outcome";
import { Time } from "../../ui/Time";
import { useCharge } from "./useToday";

/** What needs somebody: a card for each job whose latest run ended badly. */
export function AttentionCards({ attention, zone }: { attention: Attention[]; zone: string }) {
  if (attention.length === 0) return null;
  return (
    <Box component="section" aria-label="Needs attention" sx={{ mb: 2.5 }}>
      <Typography color="textSecondary" sx={{ fontWeight: 600, mb: 0.75, fontSize: "0.85rem" }}>
        Needs attention
      </Typography>
      <Box sx={{ display: "grid", gap: 1.5, gridTemplateColumns: "repeat(auto-fill, minmax(min(100%, 300px), 1fr))" }}>
        {attention.map((each) => (
          <Card key={each.run.number} attention={each} zone={zone} />
        ))}
      </Box>
    </Box>
  );
}

/** So many are named on a card; the others are counted. */
const MOST_NAMED = 8;
const SMALL = { py: 0, px: 0.75, minWidth: 0 } as const;

function Card({ attention, zone }: { attention: Attention; zone: string }) {
  const { run, inARow, since, also, fault } = attention;
  const me = useMe();
  const charge = useCharge();
  const by = run.takenBy ?? fault?.seenBy;
  const mine = by === me.name;
  const may = me.teams[run.team]?.includes("cancel-runs");
  const values = Object.values(run.parameters).filter((value) => value.length < 20);
  const outage = run.state === "missed" && also.length > 0;
  return (
    <Paper
      sx={{
        p: 1.5,
        borderLeft: 4,
        borderLeftColor: run.state === "missed" ? "outcome.amber" : "outcome.bad",
        display: "grid",
        gap: 0.4,
        alignContent: "start",
        fontSize: "0.82rem",
      }}
    >
      <Link
        component={RouterLink}
        to={`/runs/${run.number}`}
        underline="hover"
        color="text.primary"
        sx={{ fontWeight: 650, fontSize: "0.9rem", overflowWrap: "anywhere" }}
      >
        {outage ? `${also.length + 1} starts were missed` : run.job}
        {!outage && values.length > 0 && ` · ${values.join(", ")}`}
      </Link>
      <Box sx={{ overflowWrap: "anywhere" }}>
        {STATE_WORDS[run.state]}{" "}
        {inARow > 1 ? (
          <>
            {inARow} times in a row since <Time at={since} zone={zone} />
          </>
        ) : (
          <Time at={run.plannedAt} zone={zone} />
        )}
        {run.message && ` — ${run.message.slice(0, 160)}`}
      </Box>
      {also.length > 0 && (
        <Box sx={{ overflowWrap: "anywhere" }}>
          {outage ? "" : "So failed "}
          {(outage ? [run, ...also] : also).slice(0, MOST_NAMED).map((each, index) => (
            <span key={each.number}>
              {index > 0 && ", "}
              <Link component={RouterLink} to={`/runs/${each.number}`} color="inherit">
                {each.job}
              </Link>
            </span>
          ))}
          {also.length >= MOST_NAMED && ` and ${also.length + (outage ? 1 : 0) - MOST_NAMED} more`}
        </Box>
      )}
      <Box sx={{ display: "flex", alignItems: "center", color: "text.secondary" }}>
        <span>
          {by ? `${mine ? "you are" : `${by} is`} on it` : "nobody is on it"}
          {fault && (
            <>
              {" · "}
              <Link component={RouterLink} to={`/faults/${fault.id}`} color="inherit">
                fault {fault.id}
              </Link>
            </>
          )}
        </span>
        <Box sx={{ ml: "auto", display: "flex", gap: 0.5 }}>
          {run.startedAt && run.kind !== "chain" && run.kind !== "sweep" && (
            <Button component={RouterLink} to={`/runs/${run.number}#log`} sx={SMALL}>
              Log
            </Button>
          )}
          {me.teams[run.team]?.includes("start-runs") && !outage && (
            <Button component={RouterLink} to={`/runs/${run.number}?repeat`} sx={SMALL}>
              Repeat
            </Button>
          )}
          {may && (
            <Button
              sx={SMALL}
              disabled={charge.isPending}
              onClick={() => charge.mutate({ number: run.number, take: !mine })}
            >
              {mine ? "Leave it" : "I'm on it"}
            </Button>
          )}
        </Box>
      </Box>
    </Paper>
  );
}
