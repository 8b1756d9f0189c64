import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { Link as RouterLink } from "react-router";
import type { Silence } from "../../api/types";
import { Time } from "../../ui/Time";
import { Trouble } from "../../ui/Trouble";
import { useSilenceCharge } from "./useEvents";

/** What was expected and has not come: a card each. */
export function SilenceCards({ silences, zone }: { silences: Silence[]; zone: string }) {
  const charge = useSilenceCharge();
  if (silences.length === 0) return null;
  return (
    <Box component="section" aria-label="Silent" sx={{ mb: 2.5 }}>
      <Typography color="textSecondary" sx={{ fontWeight: 600, mb: 0.75, fontSize: "0.85rem" }}>
        Silent
      </Typography>
      <Trouble error={charge.error} />
      <Box sx={{ display: "grid", gap: 1.5, gridTemplateColumns: "repeat(auto-fill, minmax(min(100%, 300px), 1fr))" }}>
        {silences.map((each) => (
          <Paper
            key={each.id}
            component="article"
            aria-label={each.job}
            sx={{
              p: 1.5,
              borderLeft: 4,
              borderLeftColor: "outcome.amber",
              display: "grid",
              gap: 0.4,
              fontSize: "0.82rem",
            }}
          >
            <Link
              component={RouterLink}
              to={`/jobs/${each.job}`}
              underline="hover"
              color="text.primary"
              sx={{ fontWeight: 650, fontSize: "0.9rem", overflowWrap: "anywhere" }}
            >
              {each.job} is silent
            </Link>
            <Box sx={{ overflowWrap: "anywhere" }}>{each.message}</Box>
            <Box sx={{ color: "text.secondary", display: "flex", alignItems: "center", gap: 1, flexWrap: "wrap" }}>
              <span>
                since <Time at={each.since} zone={zone} />
                {each.seenBy && `, ${each.seenBy} sees to it`}
              </span>
              <Button
                size="small"
                sx={{ ml: "auto" }}
                disabled={charge.isPending}
                onClick={() => charge.mutate({ silence: each, take: !each.seenBy })}
              >
                {each.seenBy ? "Leave it" : "I'm on it"}
              </Button>
            </Box>
          </Paper>
        ))}
      </Box>
    </Box>
  );
}
