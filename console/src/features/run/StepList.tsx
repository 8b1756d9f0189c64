import Box from "@mui/material/Box";
import Link from "@mui/material/Link";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { Link as RouterLink } from "react-router";
import type { StepState } from "../../api/types";
import { StateMark } from "../../ui/StateMark";
import { durationWords, millis } from "../../ui/times";

/** The steps of a chain, each with what became of it. */
export function StepList({ steps }: { steps: StepState[] }) {
  return (
    <Paper component="section" aria-label="Steps">
      <Typography variant="h2" sx={{ p: 1.75, pb: 1 }}>
        Steps
      </Typography>
      {steps.map((step) => (
        <Box
          key={step.step}
          sx={{
            display: "grid",
            gridTemplateColumns: { xs: "1fr auto", md: "minmax(110px, 1fr) 130px 80px minmax(0, 2.4fr)" },
            gap: 1,
            px: 1.75,
            py: 1,
            borderTop: 1,
            borderColor: "divider",
            fontSize: "0.86rem",
            alignItems: "center",
          }}
        >
          <Box>
            <b>{step.step}</b>
            <Box sx={{ color: "text.secondary", fontSize: "0.8rem" }}>
              {step.after.length === 0 ? "begins at once" : `after ${step.after.join(", ")}, on ${step.on}`}
            </Box>
          </Box>
          <StateMark state={step.state} />
          <Box>{step.run?.took && durationWords(millis(step.run.took))}</Box>
          <Box sx={{ overflowWrap: "anywhere" }}>
            {step.run ? (
              <Link component={RouterLink} to={`/runs/${step.run.number}`}>
                run {step.run.number}
              </Link>
            ) : (
              <Box component="span" sx={{ color: "text.secondary" }}>
                runs {step.job}
              </Box>
            )}
            {step.run?.message && step.state !== "succeeded" && ` — ${step.run.message}`}
          </Box>
        </Box>
      ))}
    </Paper>
  );
}
