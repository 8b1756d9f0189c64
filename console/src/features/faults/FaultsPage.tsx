import Box from "@mui/material/Box";
import FormControlLabel from "@mui/material/FormControlLabel";
import Link from "@mui/material/Link";
import Paper from "@mui/material/Paper";
import Switch from "@mui/material/Switch";
import Typography from "@mui/material/Typography";
import { Link as RouterLink, useSearchParams } from "react-router";
import type { Fault } from "../../api/types";
import { Coming } from "../../ui/Asked";
import { Empty } from "../../ui/Empty";
import { StateMark } from "../../ui/StateMark";
import { Time } from "../../ui/Time";
import { Trouble } from "../../ui/Trouble";
import { LATEST_FAULTS, useFaults } from "./useFaults";

/** What is wrong, and who is on it? */
export function FaultsPage() {
  const [address, setAddress] = useSearchParams();
  const all = address.get("all") === "yes";
  const faults = useFaults(!all);
  const found = faults.data ?? [];
  return (
    <>
      <title>Faults · Gantrel</title>
      <Box sx={{ display: "flex", flexWrap: "wrap", alignItems: "center", gap: 1.5, mb: 1.5 }}>
        <Typography variant="h1" sx={{ flex: 1 }}>
          Faults
        </Typography>
        <FormControlLabel
          control={<Switch checked={all} onChange={(_, on) => setAddress(on ? { all: "yes" } : {})} />}
          label="Also those that are over"
        />
      </Box>
      <Trouble error={faults.error} />
      {faults.isPending && <Coming />}
      {faults.data && found.length === 0 && (
        <Paper>
          <Empty
            title={all ? "There was no fault yet" : "Nothing is wrong"}
            hint="A fault begins with a run that ends badly, and is over when the job works again."
          />
        </Paper>
      )}
      <Box sx={{ display: "grid", gap: 1.25, gridTemplateColumns: "repeat(auto-fill, minmax(min(100%, 420px), 1fr))" }}>
        {found.map((fault) => (
          <Card key={fault.id} fault={fault} />
        ))}
      </Box>
      {all && found.length === LATEST_FAULTS && (
        <Typography sx={{ mt: 1.5, color: "text.secondary" }}>
          The latest {LATEST_FAULTS}. &apos;gantrel fault list --all --limit 1000&apos; lists more.
        </Typography>
      )}
    </>
  );
}

function Card({ fault }: { fault: Fault }) {
  return (
    <Paper component="article" aria-label={fault.job} sx={{ p: 1.5, opacity: fault.closedAt ? 0.75 : 1, minWidth: 0 }}>
      <Box sx={{ display: "flex", gap: 1, alignItems: "center", flexWrap: "wrap" }}>
        <StateMark state={fault.closedAt ? "succeeded" : fault.state} word={false} />
        <Link component={RouterLink} to={`/faults/${fault.id}`} sx={{ fontWeight: 650, overflowWrap: "anywhere" }}>
          {fault.job}
        </Link>
        <Box sx={{ color: "text.secondary" }}>
          {fault.closedAt ? "works again" : fault.state}
          {fault.badEnds > 1 && `, ${fault.badEnds} times in a row`}
        </Box>
        <Box sx={{ ml: "auto", color: "text.secondary" }}>{fault.team}</Box>
      </Box>
      <Box sx={{ my: 0.5, overflowWrap: "anywhere" }}>{fault.message}</Box>
      <Box sx={{ color: "text.secondary", fontSize: "0.82rem", display: "flex", flexWrap: "wrap", columnGap: 2 }}>
        <span>
          since <Time at={fault.openedAt} />
        </span>
        {fault.closedAt && (
          <span>
            over <Time at={fault.closedAt} />
          </span>
        )}
        <span>{fault.seenBy ? `${fault.seenBy} sees to it` : fault.closedAt ? "" : "nobody sees to it"}</span>
      </Box>
    </Paper>
  );
}
