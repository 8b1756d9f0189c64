import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { lazy, Suspense } from "react";
import { Coming } from "./Asked";
import { OfferedDraft } from "./OfferedDraft";
import type { Edited } from "./useEdited";

const SideBySide = lazy(() => import("./SideBySide"));

/** What whoever edits has to know: that something is left from last time, or that somebody else has saved meanwhile. */
export function EditorNotes({ edited, shown = (text) => text }: { edited: Edited; shown?: (text: string) => string }) {
  return (
    <>
      {edited.offered && (
        <OfferedDraft what="Changes" at={edited.offered.at} onTake={edited.takeOffered} onDrop={edited.dropOffered} />
      )}
      {!edited.kept && (
        <Alert severity="warning" sx={{ mb: 1.5 }}>
          This device has no room to keep what you type; save before you leave.
        </Alert>
      )}
      {edited.clashes > 0 && edited.changed && (
        <Alert severity="warning" sx={{ mb: 1.5 }}>
          You had both changed the same lines in {edited.clashes} {edited.clashes === 1 ? "place" : "places"}; yours
          stand there now. Look at them before you save.
        </Alert>
      )}
      {edited.theirs && (
        <Alert severity="warning" icon={false} sx={{ mb: 1.5, "& .MuiAlert-message": { width: "100%" } }}>
          <Box role="status">
            <Typography sx={{ fontWeight: 650 }}>Somebody else has saved this while you were writing.</Typography>
            Nothing of yours is lost. Theirs stands on the left, yours on the right.
          </Box>
          <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, my: 1 }}>
            <Button variant="outlined" onClick={edited.takeBoth}>
              Mine on top of theirs
            </Button>
            <Button onClick={edited.takeMine}>Mine</Button>
            <Button onClick={edited.takeTheirs}>Theirs</Button>
          </Box>
          <Suspense fallback={<Coming lines={3} />}>
            <SideBySide left={shown(edited.theirs.text)} right={shown(edited.text)} />
          </Suspense>
        </Alert>
      )}
    </>
  );
}
