import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import type { SetAside } from "../../api/types";
import { useMe } from "../../ui/me";
import { Time } from "../../ui/Time";
import { useRetry } from "./useToday";

/** What the service could not deal with: a card each, with the reason, what it means and another try. */
export function SetAsideCards({ things, zone }: { things: SetAside[]; zone: string }) {
  if (things.length === 0) return null;
  return (
    <Box component="section" aria-label="Set aside" sx={{ mb: 2.5 }}>
      <Typography color="textSecondary" sx={{ fontWeight: 600, mb: 0.75, fontSize: "0.85rem" }}>
        Set aside
      </Typography>
      <Box sx={{ display: "grid", gap: 1.5, gridTemplateColumns: "repeat(auto-fill, minmax(min(100%, 300px), 1fr))" }}>
        {things.map((thing) => (
          <Card key={`${thing.kind} ${thing.id}`} thing={thing} zone={zone} />
        ))}
      </Box>
    </Box>
  );
}

function Card({ thing, zone }: { thing: SetAside; zone: string }) {
  const me = useMe();
  const retry = useRetry();
  const may = thing.team ? me.teams[thing.team]?.includes("cancel-runs") : me.administrator;
  return (
    <Paper
      sx={{
        p: 1.5,
        borderLeft: 4,
        borderLeftColor: "outcome.amber",
        display: "grid",
        gap: 0.4,
        alignContent: "start",
        fontSize: "0.82rem",
      }}
    >
      <Box sx={{ fontWeight: 650, fontSize: "0.9rem", overflowWrap: "anywhere" }}>{thing.name}</Box>
      <Box sx={{ overflowWrap: "anywhere" }}>
        {thing.reason} — since <Time at={thing.since} zone={zone} />, {thing.tries} tries
      </Box>
      <Box sx={{ color: "text.secondary", "&::first-letter": { textTransform: "uppercase" } }}>{thing.help}.</Box>
      {may && (
        <Button
          sx={{ justifySelf: "end", py: 0, minWidth: 0 }}
          disabled={retry.isPending}
          onClick={() => retry.mutate(thing)}
        >
          Try again
        </Button>
      )}
    </Paper>
  );
}
