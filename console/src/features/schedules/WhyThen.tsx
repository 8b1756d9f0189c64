import Box from "@mui/material/Box";
import Link from "@mui/material/Link";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link as RouterLink } from "react-router";
import { get, withQuery } from "../../api/client";
import type { WhyThen as Answer } from "../../api/types";
import { isMoment, MomentField } from "../../ui/MomentField";
import { Time } from "../../ui/Time";
import { Trouble } from "../../ui/Trouble";

type Props = { job: string; schedule: string; zone: string };

/** Why it started at a moment, or did not: asked of any moment, one that was no occurrence too. */
export function WhyThen({ job, schedule, zone }: Props) {
  const [text, setText] = useState("");
  const at = isMoment(text) ? text.replace(" ", "T") : "";
  const path = `/api/v1/jobs/${encodeURIComponent(job)}/schedules/${encodeURIComponent(schedule)}/why`;
  const why = useQuery({
    queryKey: ["job", job, "why", schedule, at],
    queryFn: () => get<Answer>(withQuery(path, { at })),
    enabled: at !== "",
    retry: false,
  });
  return (
    <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1.5, alignItems: "flex-start", mt: 1, mb: 1.5 }}>
      <MomentField label="Why then, or why not?" value={text} help={`a time in ${zone}`} onChange={setText} />
      <Box aria-live="polite" sx={{ flex: 1, minWidth: 240, pt: 0.75, overflowWrap: "anywhere" }}>
        <Trouble error={why.error} />
        {why.data && <Told why={why.data} zone={zone} />}
      </Box>
    </Box>
  );
}

function Told({ why, zone }: { why: Answer; zone: string }) {
  return (
    <>
      <Box>
        {why.sentence.charAt(0).toUpperCase() + why.sentence.slice(1)}.{" "}
        {why.run && (
          <Link component={RouterLink} to={`/runs/${why.run}`}>
            To run {why.run}
          </Link>
        )}
      </Box>
      <Box sx={{ color: "text.secondary", display: "flex", flexWrap: "wrap", columnGap: 2 }}>
        {why.before && (
          <span>
            before it <Time at={why.before} zone={zone} />
          </span>
        )}
        {why.next && (
          <span>
            after it <Time at={why.next} zone={zone} />
          </span>
        )}
      </Box>
    </>
  );
}
