import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import { useState } from "react";
import { Link as RouterLink, useSearchParams } from "react-router";
import type { RunDetail } from "../../api/types";
import { useMe } from "../../ui/me";
import { Trouble } from "../../ui/Trouble";
import { ChainActions } from "../chain/ChainActions";
import { useCharge } from "../today/useToday";
import { RepeatDialog } from "./RepeatDialog";
import { useCancel, useNextTry, useRepeat } from "./useRun";

const BAD = ["failed", "timed-out", "missed"];

/** What can be done with a run: stop it, run it again, see to its failure. */
export function RunActions({ run }: { run: RunDetail }) {
  const me = useMe();
  const [asking, setAsking] = useState(false);
  // a card of Today leads here to repeat; it is asked all the same
  const [address] = useSearchParams();
  const [repeating, setRepeating] = useState(address.has("repeat"));
  const cancel = useCancel(run.number);
  const repeat = useRepeat(run.number);
  const charge = useCharge();
  const nextTry = useNextTry(run.number);
  const open = run.state === "running" || run.state === "waiting";
  const mine = run.takenBy === me.name;
  return (
    <Box sx={{ ml: "auto", display: "flex", gap: 1, flexWrap: "wrap" }}>
      {BAD.includes(run.state) && run.mayDo.includes("cancel-runs") && (
        <Button onClick={() => charge.mutate({ number: run.number, take: !mine })}>
          {mine ? "Leave it" : "I'm on it"}
        </Button>
      )}
      <Button component={RouterLink} to={`/runs/${run.number}/comparison`}>
        Compare
      </Button>
      {run.kind === "chain" && <ChainActions run={run} />}
      {run.mayDo.includes("start-runs") && !open && run.kind !== "sweep" && (
        <Button variant="outlined" onClick={() => setRepeating(true)} disabled={repeat.isPending}>
          Repeat
        </Button>
      )}
      {run.mayDo.includes("start-runs") && run.kind === "sweep" && run.state === "failed" && (
        <Button variant="outlined" onClick={() => repeat.mutate(true)} disabled={repeat.isPending}>
          Repeat the failed rows
        </Button>
      )}
      {run.retryAt && run.mayDo.includes("cancel-runs") && (
        <>
          <Button onClick={() => nextTry.mutate(false)} disabled={nextTry.isPending}>
            Give up
          </Button>
          <Button variant="outlined" onClick={() => nextTry.mutate(true)} disabled={nextTry.isPending}>
            Try now
          </Button>
        </>
      )}
      {open && run.mayDo.includes("cancel-runs") && (
        <Button variant="outlined" color="error" onClick={() => setAsking(true)} disabled={run.stopping}>
          {run.stopping ? "Stopping …" : "Cancel"}
        </Button>
      )}
      <Trouble error={repeat.error ?? cancel.error ?? nextTry.error ?? charge.error} />
      {repeating && !open && run.mayDo.includes("start-runs") && (
        <RepeatDialog run={run} onClose={() => setRepeating(false)} />
      )}
      <Dialog open={asking} onClose={() => setAsking(false)}>
        <DialogTitle>
          Cancel run {run.number} of {run.job}?
        </DialogTitle>
        <DialogContent>
          It is asked to stop, and ended by force after ten seconds. What it has done by then stays done.
        </DialogContent>
        <DialogActions>
          <Button onClick={() => setAsking(false)}>Let it run</Button>
          <Button
            color="error"
            variant="contained"
            onClick={() => {
              setAsking(false);
              cancel.mutate();
            }}
          >
            Cancel the run
          </Button>
        </DialogActions>
      </Dialog>
    </Box>
  );
}
