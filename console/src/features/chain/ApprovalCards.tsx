import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { Link as RouterLink } from "react-router";
import { Time } from "../../ui/Time";
import { Trouble } from "../../ui/Trouble";
import { type Approval, useApprovals, useDeed } from "./useChain";

/** Where chains ask whether to go on: a card each. */
export function ApprovalCards({ zone }: { zone: string }) {
  const open = useApprovals().data ?? [];
  if (open.length === 0) return null;
  return (
    <Box component="section" aria-label="Asked for approval" sx={{ mb: 2.5 }}>
      <Typography color="textSecondary" sx={{ fontWeight: 600, mb: 0.75, fontSize: "0.85rem" }}>
        Asked for approval
      </Typography>
      <Box sx={{ display: "grid", gap: 1.5, gridTemplateColumns: "repeat(auto-fill, minmax(min(100%, 300px), 1fr))" }}>
        {open.map((each) => (
          <Card key={`${each.run} ${each.step}`} approval={each} zone={zone} />
        ))}
      </Box>
    </Box>
  );
}

function Card({ approval, zone }: { approval: Approval; zone: string }) {
  const deed = useDeed(approval.run);
  const decide = (approve: boolean) => deed.mutate({ what: "decide", step: approval.step, approve });
  return (
    <Paper
      sx={{
        p: 1.5,
        borderLeft: 4,
        borderLeftColor: "outcome.going",
        display: "grid",
        gap: 0.4,
        alignContent: "start",
        fontSize: "0.82rem",
      }}
    >
      <Box sx={{ fontWeight: 650, fontSize: "0.9rem", overflowWrap: "anywhere" }}>{approval.asks}</Box>
      <Box>
        {approval.job}, step {approval.step},{" "}
        <Link component={RouterLink} to={`/runs/${approval.run}`}>
          run {approval.run}
        </Link>
      </Box>
      <Box sx={{ color: "text.secondary" }}>
        asks a {approval.of} since <Time at={approval.since} zone={zone} />
        {approval.until && (
          <>
            , until <Time at={approval.until} zone={zone} />
          </>
        )}
      </Box>
      {approval.mayDecide && (
        <Box sx={{ display: "flex", gap: 1, justifyContent: "end" }}>
          <Button color="error" disabled={deed.isPending} onClick={() => decide(false)}>
            Refuse
          </Button>
          <Button variant="outlined" disabled={deed.isPending} onClick={() => decide(true)}>
            Approve
          </Button>
        </Box>
      )}
      <Trouble error={deed.error} />
    </Paper>
  );
}
