import Box from "@mui/material/Box";
import { OutcomeDefinitions, OutcomeShape, STATE_WORDS } from "./outcome";

/** A state as a small bar with its word. */
export function StateMark({ state, word = true }: { state: string; word?: boolean }) {
  return (
    <Box component="span" sx={{ display: "inline-flex", alignItems: "center", gap: 1, whiteSpace: "nowrap" }}>
      <svg width="18" height="12" viewBox="0 0 18 12" role="img" aria-label={STATE_WORDS[state] ?? state}>
        <OutcomeDefinitions />
        <OutcomeShape x={2} y={0} width={14} height={12} state={state} />
      </svg>
      {word && <span>{STATE_WORDS[state] ?? state}</span>}
    </Box>
  );
}
