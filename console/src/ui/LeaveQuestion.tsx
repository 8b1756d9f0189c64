import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import { useEffect } from "react";
import { type Location, useBlocker } from "react-router";
import { dropAllUnsaved, isUnsaved, useUnsaved } from "./unsaved";

/** What a page is: its path, and the view of it where it has several; filters and the like make no other page. */
const placeOf = ({ pathname, search }: Location) => `${pathname} ${new URLSearchParams(search).get("view") ?? ""}`;

/** Asks before a page is left on which something is unsaved. One stands around all pages. */
export function LeaveQuestion() {
  const words = useUnsaved();
  const blocker = useBlocker(
    ({ currentLocation, nextLocation }) => isUnsaved() && placeOf(currentLocation) !== placeOf(nextLocation),
  );
  useEffect(() => {
    if (!words) return;
    const closing = (event: BeforeUnloadEvent) => event.preventDefault();
    window.addEventListener("beforeunload", closing);
    return () => window.removeEventListener("beforeunload", closing);
  }, [words]);
  const asking = blocker.state === "blocked";
  return (
    <Dialog open={asking} onClose={() => blocker.reset?.()} aria-labelledby="leave-title">
      <DialogTitle id="leave-title">Leave without saving?</DialogTitle>
      <DialogContent>You would lose {words || "what you changed"}.</DialogContent>
      <DialogActions>
        <Button autoFocus onClick={() => blocker.reset?.()}>
          Stay
        </Button>
        <Button
          color="error"
          variant="contained"
          onClick={() => {
            dropAllUnsaved();
            blocker.proceed?.();
          }}
        >
          Leave
        </Button>
      </DialogActions>
    </Dialog>
  );
}
