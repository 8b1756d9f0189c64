import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import FormControlLabel from "@mui/material/FormControlLabel";
import Paper from "@mui/material/Paper";
import Switch from "@mui/material/Switch";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { useSearchParams } from "react-router";
import type { Hold } from "../../api/types";
import { Coming } from "../../ui/Asked";
import { Empty } from "../../ui/Empty";
import { useMe } from "../../ui/me";
import { Time } from "../../ui/Time";
import { Trouble } from "../../ui/Trouble";
import { HoldDialog } from "./HoldDialog";
import { useHolds, useWorkHolds } from "./useLanes";

/** What is held, by whom, why and until when? */
export function HoldsPage() {
  const me = useMe();
  const [ended, setEnded] = useState(false);
  const holds = useHolds(ended);
  const work = useWorkHolds();
  const [address, setAddress] = useSearchParams();
  const [laying, setLaying] = useState(address.has("on"));
  const may = Object.values(me.teams).some((deeds) => deeds.includes("hold-work"));
  return (
    <>
      <title>Holds · Gantrel</title>
      <Box sx={{ display: "flex", flexWrap: "wrap", alignItems: "center", gap: 1.5, mb: 0.5 }}>
        <Typography variant="h1" sx={{ flex: 1 }}>
          Holds
        </Typography>
        <FormControlLabel
          control={<Switch size="small" checked={ended} onChange={(_, on) => setEnded(on)} />}
          label="those that are over, too"
        />
        {may && (
          <Button variant="contained" onClick={() => setLaying(true)}>
            Hold something
          </Button>
        )}
      </Box>
      <Typography color="textSecondary" sx={{ mb: 2 }}>
        Work that is not to start for a while. Whoever wonders why nothing starts is told of it.
      </Typography>
      <Trouble error={holds.error ?? work.error} />
      {holds.isPending && <Coming />}
      {holds.data?.length === 0 && (
        <Paper>
          <Empty
            title="Nothing is held"
            hint="A job, a team, a lane or everything can be held, now or from a time on."
          />
        </Paper>
      )}
      <Box sx={{ display: "grid", gap: 1.5 }}>
        {holds.data?.map((hold) => (
          <HoldCard key={hold.id} hold={hold} onEnd={may ? () => work.mutate({ end: hold.id }) : undefined} />
        ))}
      </Box>
      {laying && (
        <HoldDialog
          on={address.get("on") ?? "job"}
          name={address.get("name") ?? ""}
          onClose={() => {
            setLaying(false);
            setAddress({});
          }}
        />
      )}
    </>
  );
}

function HoldCard({ hold, onEnd }: { hold: Hold; onEnd?: () => void }) {
  const over = hold.endedAt !== undefined || (hold.until !== undefined && new Date(hold.until) <= new Date());
  return (
    <Paper
      sx={{
        p: 1.5,
        display: "flex",
        flexWrap: "wrap",
        gap: 1.5,
        alignItems: "center",
        borderLeft: 4,
        borderLeftColor: hold.active ? "outcome.amber" : "divider",
      }}
    >
      <Box sx={{ flex: 1, minWidth: 220, overflowWrap: "anywhere" }}>
        <Box sx={{ fontWeight: 650 }}>
          {hold.on === "service" ? "The whole service" : `${hold.on} ${hold.name}`}
          {hold.active ? "" : over ? " · over" : " · not now"}
        </Box>
        <Box>{hold.why}</Box>
        <Box sx={{ color: "text.secondary", fontSize: "0.85rem" }}>
          by {hold.person}, from <Time at={hold.from} />
          {hold.until ? (
            <>
              {" "}
              until <Time at={hold.until} />
            </>
          ) : (
            " until somebody ends it"
          )}
          ; what comes due is {hold.due === "skip" ? "skipped" : "kept"}
          {hold.running === "stop" && ", what is under way is stopped"}
          {hold.endedBy && `; ended by ${hold.endedBy}`}
        </Box>
      </Box>
      {onEnd && !over && <Button onClick={onEnd}>End it</Button>}
    </Paper>
  );
}
