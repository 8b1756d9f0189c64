import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { call } from "../../api/client";
import type { Job, Rehearsal } from "../../api/types";
import { LazyField } from "../../ui/LazyField";
import { StateMark } from "../../ui/StateMark";
import { Time } from "../../ui/Time";
import { Trouble } from "../../ui/Trouble";
import { ChainPanel } from "./ChainPanel";
import type { ChainStep } from "./model";

const ENDS = ["succeeded", "warned", "failed", "timed-out", "cancelled", "skipped"];

/** A chain as it is defined; steps can be supposed to end in some way, and the way that it would go then is shown. */
export function SupposedChain({ job, steps }: { job: Job; steps: ChainStep[] }) {
  const [supposed, setSupposed] = useState<Record<string, string>>();
  const mayStart = job.mayDo.includes("start-runs");
  const course = useQuery({
    queryKey: ["job", job.name, "course", supposed],
    queryFn: async () =>
      (await call<Rehearsal>("POST", `/api/v1/jobs/${job.name}/rehearsal`, { suppose: supposed })).body,
    enabled: supposed !== undefined,
    placeholderData: (before) => (supposed === undefined ? undefined : before),
    retry: false,
  });
  const plans = new Map((supposed ? (course.data?.course ?? []) : []).map((plan) => [plan.step, plan]));
  const shown = steps.map((step): ChainStep => {
    const plan = plans.get(step.step);
    if (!plan) {
      return step;
    }
    const message = [plan.why, plan.waited && `waits ${plan.waited}`].filter(Boolean).join("; ");
    return { ...step, state: plan.state, from: plan.from, until: plan.until, message };
  });
  const suppose = (what: string, value: string) =>
    setSupposed((was = {}) => {
      const { [what]: _, ...others } = was;
      return value === "" ? others : { ...others, [what]: value };
    });
  const ends = supposed && course.data?.ends;
  return (
    <>
      {ends && (
        <Box role="status" sx={{ display: "flex", flexWrap: "wrap", gap: 1, alignItems: "center", mb: 1 }}>
          <StateMark state={ends.state} />
          <Box sx={{ overflowWrap: "anywhere" }}>
            {ends.message}, at <Time at={ends.at} zone={course.data?.zone} />
            {Object.keys(supposed).length > 0 &&
              `, if ${Object.entries(supposed)
                .map(([what, value]) => `${what} = ${value}`)
                .join(" and ")}`}
          </Box>
          <Button onClick={() => setSupposed(undefined)}>As it is defined</Button>
        </Box>
      )}
      <Trouble error={supposed ? course.error : null} />
      <ChainPanel
        name={job.name}
        steps={shown}
        zone={ends ? course.data?.zone : undefined}
        details={(step, close) => (
          <Box
            component="section"
            aria-label={`Step ${step.step}`}
            sx={{ display: "grid", gap: 1, fontSize: "0.86rem" }}
          >
            <Box sx={{ display: "flex", gap: 1.25, alignItems: "center", flexWrap: "wrap" }}>
              <Typography variant="h2">{step.step}</Typography>
              {step.state && <StateMark state={step.state} />}
              <Button sx={{ ml: "auto" }} onClick={close}>
                Close
              </Button>
            </Box>
            <Box sx={{ color: "text.secondary" }}>
              {step.does}, {step.linksInWords}
              {step.message && `; ${step.message}`}
            </Box>
            {mayStart && !step.within && (
              <Box sx={{ display: "flex", gap: 1.5, flexWrap: "wrap", alignItems: "flex-start", mt: 0.75 }}>
                <TextField
                  select
                  label="Suppose that it ends"
                  value={supposed?.[step.step] ?? ""}
                  onChange={(event) => suppose(step.step, event.target.value)}
                  sx={{ width: 190 }}
                >
                  <MenuItem value="">well</MenuItem>
                  {ENDS.slice(1).map((end) => (
                    <MenuItem key={end} value={end}>
                      {end}
                    </MenuItem>
                  ))}
                </TextField>
                <SupposedResult key={step.step} step={step.step} onSuppose={suppose} />
                {supposed === undefined && <Button onClick={() => setSupposed({})}>Rehearse the way</Button>}
              </Box>
            )}
          </Box>
        )}
      />
    </>
  );
}

/** A result that a step is supposed to give. */
function SupposedResult(props: { step: string; onSuppose: (what: string, value: string) => void }) {
  return (
    <LazyField
      label="and gives"
      value=""
      help="NAME=VALUE, such as total=12"
      onCommit={(text) => {
        const at = text.indexOf("=");
        if (at > 0) {
          props.onSuppose(
            `${props.step.replaceAll("-", "_")}.values.${text.slice(0, at).trim()}`,
            text.slice(at + 1).trim(),
          );
        }
      }}
    />
  );
}
