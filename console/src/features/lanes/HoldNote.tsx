import Link from "@mui/material/Link";
import Paper from "@mui/material/Paper";
import { Link as RouterLink } from "react-router";
import { Time } from "../../ui/Time";

/** What is held, or will be, by whom and why: where somebody would wonder why nothing starts. */
export function HoldNote({
  hold,
  zone,
}: {
  hold: { words: string; from: string; until?: string; active: boolean };
  zone?: string;
}) {
  return (
    <Paper role="note" sx={{ p: 1.25, mb: 2, borderLeft: 4, borderLeftColor: "outcome.amber" }}>
      {hold.active ? "On hold: " : "To be held: "}
      {hold.words}, from <Time at={hold.from} zone={zone} />
      {hold.until && (
        <>
          {" "}
          until <Time at={hold.until} zone={zone} />
        </>
      )}{" "}
      <Link component={RouterLink} to="/holds">
        holds
      </Link>
    </Paper>
  );
}
