import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Time } from "../../ui/Time";
import { Trouble } from "../../ui/Trouble";
import { Came } from "./TriggerList";
import { useEventTypes, useTrial, useTrigger } from "./useEvents";

/** What came of the last events, how the trigger is called, and what would start if an event came that one makes up. */
export function TriggerDialog({ job, name, onClose }: { job: string; name: string; onClose: () => void }) {
  const page = useTrigger(job, name).data;
  const types = useEventTypes();
  const trial = useTrial(job, name);
  const fields = types.data?.find((each) => each.type === page?.trigger.on)?.fields ?? [];
  const [said, setSaid] = useState("{\n  \n}");
  const [wrong, setWrong] = useState("");
  const tryIt = () => {
    try {
      const event = JSON.parse(said);
      setWrong("");
      trial.mutate(event);
    } catch (error) {
      setWrong(`This is no JSON: ${(error as Error).message}`);
    }
  };
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth>
      <DialogTitle sx={{ overflowWrap: "anywhere" }}>
        {job} starts {page?.trigger.words}
      </DialogTitle>
      <DialogContent sx={{ display: "grid", gap: 1.5, gridTemplateColumns: "minmax(0, 1fr)" }}>
        {page?.address && (
          <Box>
            <Typography sx={{ fontWeight: 600 }}>Called at</Typography>
            <Box component="code" sx={{ overflowWrap: "anywhere" }}>
              {page.address}
            </Box>
            <Box component="pre" tabIndex={0} sx={{ m: 0, mt: 0.5, whiteSpace: "pre-wrap", overflowWrap: "anywhere" }}>
              {page.shell}
            </Box>
          </Box>
        )}
        <Box>
          <Typography sx={{ fontWeight: 600 }}>What came of the last events</Typography>
          {page && page.firings.length === 0 && <Typography color="textSecondary">Nothing has come yet.</Typography>}
          <Box component="ul" sx={{ m: 0, pl: 2 }}>
            {page?.firings.slice(0, 8).map((firing) => (
              <li key={firing.id}>
                <Came firing={firing} />
              </li>
            ))}
          </Box>
        </Box>
        {page?.mayDo.includes("start-runs") && (
          <Box sx={{ display: "grid", gap: 1 }}>
            <Typography sx={{ fontWeight: 600 }}>What if such an event came?</Typography>
            <TextField
              label="What the event says, as JSON"
              multiline
              minRows={3}
              value={said}
              error={wrong !== ""}
              helperText={
                wrong ||
                `Its fields: ${fields.map((each) => each.name).join(", ")}${page?.address ? "; what a call carries stands under values" : ""}`
              }
              onChange={(event) => setSaid(event.target.value)}
              slotProps={{ htmlInput: { spellCheck: false, style: { fontFamily: "monospace" } } }}
            />
            <Box>
              <Button variant="outlined" onClick={tryIt} disabled={trial.isPending}>
                Try it
              </Button>
            </Box>
            <Trouble error={trial.error} />
            {trial.data && (
              <Box role="status">
                <b>{trial.data.starts ? "It would start" : "It would not start"}</b>
                {trial.data.at && (
                  <>
                    {" "}
                    at <Time at={trial.data.at} />
                  </>
                )}
                {trial.data.why && `: ${trial.data.why}`}
                {Object.entries(trial.data.with).map(([key, value]) => (
                  <Box key={key} sx={{ overflowWrap: "anywhere" }}>
                    with {key} = {value}
                  </Box>
                ))}
                {trial.data.unknown.map((each) => (
                  <Box key={each} sx={{ color: "outcome.amberText" }}>
                    {each}
                  </Box>
                ))}
              </Box>
            )}
          </Box>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  );
}
