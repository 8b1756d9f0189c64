import Box from "@mui/material/Box";
import Link from "@mui/material/Link";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { Link as RouterLink } from "react-router";
import type { Deadline } from "../../api/types";
import { Time } from "../../ui/Time";
import { durationWords, millis } from "../../ui/times";

/** Deadlines that are missed, or will probably be: a card each, with by how much and because of what. */
export function DeadlineCards({ deadlines, zone }: { deadlines: Deadline[]; zone: string }) {
  if (deadlines.length === 0) return null;
  return (
    <Box component="section" aria-label="Deadlines" sx={{ mb: 2.5 }}>
      <Typography color="textSecondary" sx={{ fontWeight: 600, mb: 0.75, fontSize: "0.85rem" }}>
        Deadlines
      </Typography>
      <Box sx={{ display: "grid", gap: 1.5, gridTemplateColumns: "repeat(auto-fill, minmax(min(100%, 300px), 1fr))" }}>
        {deadlines.map((each) => (
          <Card key={`${each.job} ${each.plannedAt}`} deadline={each} zone={zone} />
        ))}
      </Box>
    </Box>
  );
}

function Card({ deadline, zone }: { deadline: Deadline; zone: string }) {
  const late = deadline.state === "late";
  return (
    <Paper
      sx={{
        p: 1.5,
        borderLeft: 4,
        borderLeftColor: late ? "outcome.bad" : "outcome.amber",
        display: "grid",
        gap: 0.4,
        alignContent: "start",
        fontSize: "0.82rem",
      }}
    >
      <Link
        component={RouterLink}
        to={deadline.run ? `/runs/${deadline.run}` : `/jobs/${deadline.job}`}
        underline="hover"
        color="text.primary"
        sx={{ fontWeight: 650, fontSize: "0.9rem", overflowWrap: "anywhere" }}
      >
        {deadline.job} {late ? "is late" : "will be late"}
        {deadline.late && ` by ${durationWords(millis(deadline.late))}`}
      </Link>
      <Box>
        its deadline is <Time at={deadline.deadline} zone={zone} />
        {deadline.ends && (
          <>
            , it will end <Time at={deadline.ends} zone={zone} />
          </>
        )}
      </Box>
      {deadline.because && <Box sx={{ color: "text.secondary", overflowWrap: "anywhere" }}>{deadline.because}</Box>}
    </Paper>
  );
}
