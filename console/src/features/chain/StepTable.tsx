import Box from "@mui/material/Box";
import Link from "@mui/material/Link";
import { Link as RouterLink } from "react-router";
import { StateMark } from "../../ui/StateMark";
import { durationWords, millis } from "../../ui/times";
import type { ChainStep } from "./model";

type Props = { steps: ChainStep[]; selected: string; onSelect: (step: string) => void };

/** The steps as a list, which says the same as the picture to those who do not see it, and on a phone. */
export function StepTable({ steps, selected, onSelect }: Props) {
  return (
    <Box component="ol" sx={{ listStyle: "none", m: 0, p: 0 }}>
      {steps.map((step) => (
        <Box
          component="li"
          key={step.step}
          sx={{
            display: "grid",
            gridTemplateColumns: { xs: "1fr auto", md: "minmax(150px, 1fr) 130px 90px minmax(0, 2.2fr)" },
            gap: 1,
            px: 1.25,
            py: 0.9,
            borderTop: 1,
            borderColor: "divider",
            bgcolor: step.step === selected ? "paper2" : undefined,
            fontSize: "0.86rem",
            alignItems: "center",
          }}
        >
          <Box>
            <Link component="button" type="button" onClick={() => onSelect(step.step)} sx={{ fontWeight: 650 }}>
              {step.step}
            </Link>
            <Box sx={{ color: "text.secondary", fontSize: "0.8rem", overflowWrap: "anywhere" }}>
              {step.linksInWords}
            </Box>
          </Box>
          <Box>{step.state && <StateMark state={step.state} />}</Box>
          <Box>{step.run?.took && durationWords(millis(step.run.took))}</Box>
          <Box sx={{ overflowWrap: "anywhere", gridColumn: { xs: "1 / -1", md: "auto" } }}>
            {step.run ? (
              <Link component={RouterLink} to={`/runs/${step.run.number}`}>
                run {step.run.number}
              </Link>
            ) : (
              <Box component="span" sx={{ color: "text.secondary" }}>
                {step.does}
              </Box>
            )}
            {step.message && !(step.run && step.state === "succeeded") && ` — ${step.message}`}
          </Box>
        </Box>
      ))}
    </Box>
  );
}
