import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Link as RouterLink } from "react-router";
import type { RunDetail } from "../../api/types";
import { StateMark } from "../../ui/StateMark";
import { Time } from "../../ui/Time";
import { Trouble } from "../../ui/Trouble";
import { durationWords, millis } from "../../ui/times";
import type { ChainStep } from "./model";
import { useDeed } from "./useChain";

const DONE = ["succeeded", "warned", "skipped"];

/** A step of a chain's run with what became of it, and what can be done about it. */
export function StepDetails({ step, run, onClose }: { step: ChainStep; run: RunDetail; onClose: () => void }) {
  const [note, setNote] = useState("");
  const deed = useDeed(run.number);
  const mayStart = run.mayDo.includes("start-runs") && run.parent === undefined && !step.within;
  const ran = step.from !== undefined && !["running", "waiting", "pending"].includes(step.state ?? "");
  const maySkip = mayStart && !step.last && !DONE.includes(step.state ?? "") && step.state !== "running";
  const said = { note: note.trim() || undefined };
  const act = (what: Parameters<typeof deed.mutate>[0]) => deed.mutate(what, { onSuccess: () => setNote("") });
  return (
    <Box component="section" aria-label={`Step ${step.step}`} sx={{ display: "grid", gap: 0.75, fontSize: "0.86rem" }}>
      <Box sx={{ display: "flex", gap: 1.25, alignItems: "center", flexWrap: "wrap" }}>
        <Typography variant="h2">{step.step}</Typography>
        {step.state && <StateMark state={step.state} />}
        <Button sx={{ ml: "auto" }} onClick={onClose}>
          Close
        </Button>
      </Box>
      <Box sx={{ color: "text.secondary" }}>
        {step.does}, {step.linksInWords}
      </Box>
      {step.message && <Box sx={{ overflowWrap: "anywhere" }}>{step.message}</Box>}
      <Box sx={{ color: "text.secondary", display: "flex", gap: 2, flexWrap: "wrap" }}>
        {step.from && (
          <span>
            from <Time at={step.from} zone={run.zone} />
            {step.until && (
              <>
                {" "}
                until <Time at={step.until} zone={run.zone} />
              </>
            )}
          </span>
        )}
        {step.limit && (
          <span>
            at most until <Time at={step.limit} zone={run.zone} />
          </span>
        )}
        {step.usual && <span>usually {durationWords(millis(step.usual))}</span>}
        {step.waitedFor && <span>waited for {step.waitedFor}</span>}
        {(step.round ?? 1) > 1 && <span>round {step.round}</span>}
        {(step.runs ?? (step.run ? [step.run.number] : [])).map((number) => (
          <Link key={number} component={RouterLink} to={`/runs/${number}`}>
            run {number}
          </Link>
        ))}
      </Box>
      {(step.mayDecide || maySkip || (mayStart && ran)) && (
        <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap", alignItems: "center", mt: 0.5 }}>
          <TextField
            value={note}
            onChange={(event) => setNote(event.target.value)}
            placeholder="Why (a note for the others)"
            slotProps={{ htmlInput: { "aria-label": "Why", maxLength: 300 } }}
            sx={{ width: 260 }}
          />
          {step.mayDecide && (
            <>
              <Button
                variant="contained"
                disabled={deed.isPending}
                onClick={() => act({ what: "decide", step: step.step, approve: true, ...said })}
              >
                Approve
              </Button>
              <Button
                variant="outlined"
                color="error"
                disabled={deed.isPending}
                onClick={() => act({ what: "decide", step: step.step, approve: false, ...said })}
              >
                Refuse
              </Button>
            </>
          )}
          {maySkip && (
            <Button
              variant="outlined"
              disabled={deed.isPending}
              onClick={() => act({ what: "skip", step: step.step, ...said })}
            >
              Skip {step.step}
            </Button>
          )}
          {mayStart && ran && (
            <Button
              variant="outlined"
              disabled={deed.isPending}
              onClick={() => act({ what: "go-on", from: step.step, ...said })}
            >
              Go on from {step.step}
            </Button>
          )}
        </Box>
      )}
      <Trouble error={deed.error} />
    </Box>
  );
}
