import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { Rehearsal } from "../../api/types";
import { MONO } from "../../theme";

const MARKS: Record<string, string> = { fine: "✓", wrong: "✗", untried: "?", does: "" };

const verdict = (rehearsal: Rehearsal) => {
  if (!rehearsal.fine) {
    return "This would go wrong.";
  }
  return rehearsal.complete
    ? "Nothing was found that would go wrong."
    : "Nothing was found that would go wrong in what was tried; lines with ? say what was not.";
};

const beginsStep = (line: Rehearsal["lines"][number]) => line.step !== "" && line.what === "job";

/** What a run would do, with nothing done; what would go wrong stands out. */
export function RehearsalView({ rehearsal }: { rehearsal: Rehearsal }) {
  return (
    <Box role="status" sx={{ border: 1, borderColor: "divider", borderRadius: 1, p: 1.25, fontSize: "0.84rem" }}>
      <Typography sx={{ fontWeight: 650, mb: 0.75 }}>
        {verdict(rehearsal)}
        {rehearsal.actsAs && ` It acts as ${rehearsal.actsAs}.`}
      </Typography>
      {rehearsal.lines.map((line, index) => (
        <Box
          // biome-ignore lint/suspicious/noArrayIndexKey: the lines of one rehearsal never move
          key={index}
          sx={{
            display: "grid",
            gridTemplateColumns: "16px 120px minmax(0, 1fr)",
            gap: 0.75,
            py: 0.25,
            color: line.kind === "wrong" ? "error.main" : line.kind === "untried" ? "warning.main" : undefined,
            ...(beginsStep(line) && { fontWeight: 650, borderTop: 1, borderColor: "divider", mt: 0.75, pt: 0.75 }),
          }}
        >
          <span aria-hidden>{MARKS[line.kind]}</span>
          <Box
            sx={{
              color: line.kind === "wrong" || beginsStep(line) ? undefined : "text.secondary",
              overflowWrap: "anywhere",
            }}
          >
            {beginsStep(line) ? `step ${line.step}` : line.what}
          </Box>
          <Box sx={{ fontFamily: MONO, fontSize: "0.78rem", whiteSpace: "pre-wrap", overflowWrap: "anywhere" }}>
            {line.text}
          </Box>
        </Box>
      ))}
    </Box>
  );
}
