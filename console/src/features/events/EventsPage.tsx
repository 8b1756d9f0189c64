import Autocomplete from "@mui/material/Autocomplete";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import Paper from "@mui/material/Paper";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Link as RouterLink, useSearchParams } from "react-router";
import type { JournalEvent } from "../../api/types";
import { Coming } from "../../ui/Asked";
import { Empty } from "../../ui/Empty";
import { Time } from "../../ui/Time";
import { Trouble } from "../../ui/Trouble";
import { useEvents, useEventTypes } from "./useEvents";

const PAGE = 100;
const MOST = 500;

/** What happened, and what came of it? */
export function EventsPage() {
  const [address, setAddress] = useSearchParams();
  const [limit, setLimit] = useState(PAGE);
  const type = address.get("type") ?? "";
  const job = address.get("job") ?? "";
  const types = useEventTypes();
  const known = ["", ...(types.data ?? []).map((each) => each.type)];
  const right = known.includes(type) || type.endsWith("*") ? type : "";
  const events = useEvents({ type: right, job: /^[a-z][a-z0-9-]*$/.test(job) ? job : "", since: "" }, limit);
  const found = events.data ?? [];
  const set = (name: string, value: string) =>
    setAddress(
      (before) => {
        const next = new URLSearchParams(before);
        if (value) next.set(name, value);
        else next.delete(name);
        return next;
      },
      { replace: true },
    );
  return (
    <>
      <title>Events · Gantrel</title>
      <Box sx={{ display: "flex", flexWrap: "wrap", alignItems: "center", gap: 1.5, mb: 1.5 }}>
        <Typography variant="h1" sx={{ flex: 1 }}>
          Events
        </Typography>
        <Autocomplete
          size="small"
          freeSolo
          options={known.filter(Boolean)}
          value={type}
          onInputChange={(_, value) => set("type", value)}
          sx={{ width: 220 }}
          renderInput={(input) => <TextField {...input} label="Type" placeholder="such as run.* " />}
        />
        <TextField
          size="small"
          label="Job"
          value={job}
          onChange={(event) => set("job", event.target.value)}
          sx={{ width: 200 }}
        />
      </Box>
      <Trouble error={events.error} />
      {events.isPending && <Coming />}
      {events.data && found.length === 0 && (
        <Paper>
          <Empty
            title="Nothing of that kind has happened"
            hint="Runs, files that came, calls from outside, changes and sign-ins are written down here."
          />
        </Paper>
      )}
      {found.length > 0 && (
        <Paper component="ol" aria-label="Events" sx={{ listStyle: "none", m: 0, p: 0 }}>
          {found.map((event) => (
            <Line key={event.id} event={event} />
          ))}
        </Paper>
      )}
      {found.length === limit && limit < MOST && (
        <Button sx={{ mt: 1 }} onClick={() => setLimit(MOST)}>
          Show more
        </Button>
      )}
    </>
  );
}

const text = (value: unknown) => (value === undefined || value === null ? "" : String(value));

function Line({ event }: { event: JournalEvent }) {
  const about = event.about;
  const job = text(about.job);
  const what =
    text(about.message) ||
    text(about.path) ||
    text(about.state) ||
    text(about.what) ||
    text(about.name) ||
    text(about.source) ||
    text(about.for);
  return (
    <Box
      component="li"
      sx={{
        display: "grid",
        gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "170px 150px minmax(0, 1fr) 90px" },
        columnGap: 1.5,
        px: 1.5,
        py: 0.75,
        borderBottom: 1,
        borderColor: "divider",
        fontSize: "0.85rem",
      }}
    >
      <Box sx={{ color: "text.secondary" }}>
        <Time at={event.at} />
      </Box>
      <Box sx={{ fontWeight: 600 }}>{event.type}</Box>
      <Box sx={{ overflowWrap: "anywhere" }}>
        {job && (
          <Link component={RouterLink} to={`/jobs/${job}`} sx={{ mr: 1 }}>
            {job}
          </Link>
        )}
        {what !== job && what}
      </Box>
      <Box sx={{ textAlign: { md: "right" }, color: "text.secondary" }}>
        {event.run ? (
          <Link component={RouterLink} to={`/runs/${event.run}`}>
            run {event.run}
          </Link>
        ) : (
          event.team || "installation"
        )}
      </Box>
    </Box>
  );
}
