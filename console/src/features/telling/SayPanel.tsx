import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Say } from "../../api/types";
import { Panel } from "../../ui/Panel";
import { Trouble } from "../../ui/Trouble";
import { useGuard } from "../../ui/useGuard";
import { useSay, useSaySo, useTryChannel } from "./useTelling";

/** How I am told: where mails go, and when not to disturb me. */
export function SayPanel() {
  const say = useSay();
  return (
    <>
      <Trouble error={say.error} />
      {say.data && <Form key={JSON.stringify(say.data)} say={say.data} />}
    </>
  );
}

const FIELDS: [keyof Omit<Say, "jobs" | "person" | "wakes">, string, string][] = [
  ["mail", "Mail address", "empty: the console alone tells"],
  ["zone", "Time zone", "such as Europe/Oslo"],
  ["quietFrom", "Quiet from", "such as 22:00; the same as its end for never"],
  ["quietUntil", "Quiet until", "such as 07:00"],
  ["calendar", "Days of work", "a calendar; on other days it is quiet. Empty: every day"],
];

function Form({ say }: { say: Say }) {
  const [draft, setDraft] = useState(say);
  const save = useSaySo();
  const tried = useTryChannel();
  const changed = JSON.stringify(draft) !== JSON.stringify(say);
  useGuard(changed && !save.isSuccess);
  return (
    <Panel title="How I am told">
      <Box sx={{ display: "grid", gap: 1.5, gridTemplateColumns: "repeat(auto-fill, minmax(min(100%, 230px), 1fr))" }}>
        {FIELDS.map(([field, label, help]) => (
          <TextField
            key={field}
            label={label}
            helperText={help}
            value={draft[field]}
            onChange={(event) => setDraft({ ...draft, [field]: event.target.value })}
          />
        ))}
        <TextField
          select
          label="Comes through in quiet hours"
          helperText="rules say how urgent something is"
          value={draft.wakes}
          onChange={(event) => setDraft({ ...draft, wakes: event.target.value })}
        >
          <MenuItem value="urgent">only what is urgent</MenuItem>
          <MenuItem value="usual">all but what is calm</MenuItem>
          <MenuItem value="calm">everything</MenuItem>
        </TextField>
      </Box>
      <Trouble error={save.error ?? tried.error} />
      <Box sx={{ display: "flex", gap: 1, mt: 1.5, alignItems: "center", flexWrap: "wrap" }}>
        <Button variant="contained" disabled={!changed || save.isPending} onClick={() => save.mutate(draft)}>
          Save
        </Button>
        <Button disabled={changed || tried.isPending || say.mail === ""} onClick={() => tried.mutate("mail")}>
          Send me a test
        </Button>
        {tried.data && (
          <Box role="status">
            {tried.data.taken ? `The mail server took it for ${tried.data.to}.` : `Not taken: ${tried.data.said}`}
          </Box>
        )}
      </Box>
      {say.jobs.length > 0 && (
        <Typography color="textSecondary" sx={{ mt: 1.5 }}>
          {say.jobs.map((job) => `${job.follows ? "follows" : "mutes"} ${job.job}`).join(", ")}
        </Typography>
      )}
    </Panel>
  );
}
