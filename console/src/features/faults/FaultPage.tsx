import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Link as RouterLink, useParams } from "react-router";
import type { FaultPageView } from "../../api/types";
import { useMe } from "../../ui/me";
import { Panel } from "../../ui/Panel";
import { StateMark } from "../../ui/StateMark";
import { Time } from "../../ui/Time";
import { Trouble } from "../../ui/Trouble";
import { useFault, useFaultDeed } from "./useFaults";

const KINDS: Record<string, string> = {
  first: "told",
  reminder: "reminded",
  further: "told, since nobody saw to it",
  recovered: "told that it works again",
};

/** A failure that goes on: what, since when, who was told, who sees to it. */
export function FaultPage() {
  const id = Number(useParams().id);
  const fault = useFault(id);
  if (!fault.data) return <Trouble error={fault.error} />;
  return <Shown page={fault.data} />;
}

function Shown({ page }: { page: FaultPageView }) {
  const { fault } = page;
  const me = useMe();
  const deed = useFaultDeed(fault.id);
  const mayWork = page.mayDo.includes("cancel-runs") && !fault.closedAt;
  return (
    <>
      <title>{`${fault.job} · Gantrel`}</title>
      <Box sx={{ display: "flex", flexWrap: "wrap", alignItems: "center", gap: 1.5, mb: 1 }}>
        <StateMark state={fault.closedAt ? "succeeded" : fault.state} word={false} />
        <Typography variant="h1" sx={{ overflowWrap: "anywhere" }}>
          {fault.closedAt
            ? `${fault.job} works again`
            : `${fault.job} ${fault.state}${fault.badEnds > 1 ? `, ${fault.badEnds} times in a row` : ""}`}
        </Typography>
        <Box sx={{ flex: 1 }} />
        {mayWork && !fault.seenBy && (
          <Button variant="contained" disabled={deed.isPending} onClick={() => deed.mutate({ what: "take" })}>
            I'm on it
          </Button>
        )}
        {mayWork && fault.seenBy === me.name && (
          <Button disabled={deed.isPending} onClick={() => deed.mutate({ what: "leave" })}>
            I'm not on it any more
          </Button>
        )}
      </Box>
      <Trouble error={deed.error} />
      <Typography sx={{ mb: 1, overflowWrap: "anywhere" }}>{fault.message}</Typography>
      <Typography color="textSecondary" sx={{ mb: 2 }}>
        Since <Time at={fault.openedAt} />,{" "}
        {fault.closedAt ? (
          <>
            until <Time at={fault.closedAt} />
          </>
        ) : fault.seenBy ? (
          `${fault.seenBy} sees to it`
        ) : (
          "and nobody sees to it yet"
        )}
        . The job:{" "}
        <Link component={RouterLink} to={`/jobs/${fault.job}`}>
          {fault.job}
        </Link>
        .
      </Typography>
      <Box sx={{ display: "grid", gap: 2, gridTemplateColumns: { xs: "minmax(0, 1fr)", lg: "1fr 1fr" } }}>
        <Panel title="Who was told">
          <Told page={page} />
        </Panel>
        <Panel title="Runs">
          <Runs page={page} />
        </Panel>
        <Panel title="Notes">
          <Notes page={page} mayWrite={mayWork} />
        </Panel>
      </Box>
    </>
  );
}

const LINES = { m: 0, p: 0, listStyle: "none", display: "grid", gap: 0.75, fontSize: "0.88rem" };

function Told({ page }: { page: FaultPageView }) {
  const told = page.told.filter(
    (message) =>
      message.by !== "console" ||
      !page.told.some((each) => each !== message && each.to === message.to && each.at === message.at),
  );
  if (told.length === 0) {
    return <Typography color="textSecondary">Nobody, or nobody whom you may know of.</Typography>;
  }
  return (
    <Box component="ul" sx={LINES}>
      {told.map((message) => (
        <Box component="li" key={`${message.at}${message.to}${message.by}`} sx={{ overflowWrap: "anywhere" }}>
          <Time at={message.at} /> {message.to} {KINDS[message.kind] ?? message.kind} by {message.by}
          {message.state !== "sent" && (
            <Box component="span" sx={{ color: "text.secondary" }}>
              , {message.state}
              {message.goesAt && (
                <>
                  {" "}
                  until <Time at={message.goesAt} />
                </>
              )}
            </Box>
          )}
        </Box>
      ))}
    </Box>
  );
}

function Runs({ page }: { page: FaultPageView }) {
  return (
    <Box component="ul" sx={LINES}>
      {page.runs.map((run) => (
        <Box
          component="li"
          key={run.number}
          sx={{ display: "flex", gap: 1, alignItems: "baseline", flexWrap: "wrap", overflowWrap: "anywhere" }}
        >
          <StateMark state={run.state} word={false} />
          <Link component={RouterLink} to={`/runs/${run.number}`}>
            {run.number}
          </Link>
          <Time at={run.at} />
          <span>{run.message}</span>
        </Box>
      ))}
    </Box>
  );
}

function Notes({ page, mayWrite }: { page: FaultPageView; mayWrite: boolean }) {
  const [text, setText] = useState("");
  const deed = useFaultDeed(page.fault.id);
  return (
    <>
      {page.notes.length === 0 && <Typography color="textSecondary">None yet.</Typography>}
      <Box component="ul" sx={LINES}>
        {page.notes.map((note) => (
          <Box component="li" key={`${note.at}${note.text}`} sx={{ overflowWrap: "anywhere" }}>
            <Time at={note.at} /> <b>{note.person}</b> {note.text}
          </Box>
        ))}
      </Box>
      {mayWrite && (
        <Box
          component="form"
          sx={{ display: "flex", gap: 1, mt: 1.5 }}
          onSubmit={(event) => {
            event.preventDefault();
            if (text.trim()) deed.mutate({ what: "note", text: text.trim() }, { onSuccess: () => setText("") });
          }}
        >
          <TextField
            fullWidth
            value={text}
            onChange={(event) => setText(event.target.value)}
            placeholder="What the others should know"
            slotProps={{ htmlInput: { "aria-label": "A note", maxLength: 1000 } }}
          />
          <Button type="submit" disabled={deed.isPending || !text.trim()}>
            Note
          </Button>
        </Box>
      )}
      <Trouble error={deed.error} />
    </>
  );
}
