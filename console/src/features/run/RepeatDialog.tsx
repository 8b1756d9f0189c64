import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { RunDetail } from "../../api/types";
import { MONO } from "../../theme";
import { FormDialog } from "../../ui/FormDialog";
import { LongText } from "../../ui/LongText";
import { Time } from "../../ui/Time";
import { Trouble } from "../../ui/Trouble";
import { StartDialog } from "../jobs/StartDialog";
import { useJob } from "../jobs/useJobs";
import { useRepeat } from "./useRun";

const MASK = "••••••";

/** Runs the same again, having shown with what; or starts it with other values. */
export function RepeatDialog({ run, onClose }: { run: RunDetail; onClose: () => void }) {
  const repeat = useRepeat(run.number);
  const [other, setOther] = useState(false);
  const job = useJob(run.job);
  const values = Object.entries(run.parameters);
  const open = Object.fromEntries(values.filter(([, value]) => value !== MASK));
  if (other && job.data) return <StartDialog job={job.data.body} values={open} onClose={onClose} />;
  const newer = job.data && job.data.body.revision !== run.revision;
  return (
    <FormDialog
      title={`Repeat run ${run.number} of ${run.job}?`}
      onClose={onClose}
      actions={
        <>
          {run.kind !== "sweep" && values.length > 0 && (
            <Button onClick={() => setOther(true)} disabled={!job.data}>
              With other values …
            </Button>
          )}
          <Button autoFocus variant="contained" disabled={repeat.isPending} onClick={() => repeat.mutate(false)}>
            Repeat
          </Button>
        </>
      }
    >
      <Typography>
        It is done once more, as of <Time at={run.plannedAt} zone={run.zone} />
        {values.length > 0 ? ", with these values:" : ". It takes no values."}
      </Typography>
      {values.length > 0 && (
        <Box component="dl" sx={{ m: 0, display: "grid", gridTemplateColumns: "auto minmax(0, 1fr)", columnGap: 2 }}>
          {values.map(([name, value]) => (
            <Box key={name} sx={{ display: "contents" }}>
              <Box component="dt" sx={{ color: "text.secondary" }}>
                {name}
              </Box>
              <Box component="dd" sx={{ m: 0, fontFamily: MONO, overflowWrap: "anywhere" }}>
                {value ? <LongText text={value} /> : "(empty)"}
              </Box>
            </Box>
          ))}
        </Box>
      )}
      {newer && (
        <Typography color="textSecondary">
          The job has been changed since: that was revision {run.revision}, now it is {job.data.body.revision}.
        </Typography>
      )}
      <Trouble error={repeat.error} />
    </FormDialog>
  );
}
