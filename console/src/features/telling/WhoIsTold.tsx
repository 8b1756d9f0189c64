import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Told } from "../../api/types";
import { isMoment, MomentField } from "../../ui/MomentField";
import { Time } from "../../ui/Time";
import { Trouble } from "../../ui/Trouble";
import { useInterest, useSay, useTold } from "./useTelling";

/** Who would be told of what, now or at a moment that one supposes. */
export function WhoIsTold({ job, zone }: { job: string; zone?: string }) {
  const [supposed, setSupposed] = useState("");
  const at = isMoment(supposed) ? new Date(supposed.replace(" ", "T")).toISOString() : "";
  const told = useTold(job, at);
  const say = useSay();
  const interest = useInterest(job);
  const mine = say.data?.jobs.find((each) => each.job === job);
  return (
    <>
      <Trouble error={told.error ?? interest.error} />
      {told.data && <Lines told={told.data} zone={zone} />}
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, alignItems: "center", mt: 1.5 }}>
        <MomentField label="If it happened at" value={supposed} onChange={setSupposed} />
        {say.data &&
          (mine ? (
            <Button disabled={interest.isPending} onClick={() => interest.mutate(undefined)}>
              {mine.follows ? "Do not follow it any more" : "Do not mute it any more"}
            </Button>
          ) : (
            <>
              <Button disabled={interest.isPending} onClick={() => interest.mutate(true)}>
                Tell me too
              </Button>
              <Button disabled={interest.isPending} onClick={() => interest.mutate(false)}>
                Mute it for me
              </Button>
            </>
          ))}
      </Box>
    </>
  );
}

function Lines({ told, zone }: { told: Told; zone?: string }) {
  const groups = new Map<string, { whats: Set<string>; line: Told["lines"][number] }>();
  for (const line of told.lines) {
    const key = [line.reached || line.who, line.by, line.when, line.rule, line.at].join("|");
    const group = groups.get(key) ?? { whats: new Set<string>(), line };
    group.whats.add(line.what);
    groups.set(key, group);
  }
  return (
    <Box component="ul" sx={{ m: 0, p: 0, listStyle: "none", display: "grid", gap: 0.75, fontSize: "0.88rem" }}>
      {[...groups].map(([key, { whats, line }]) => (
        <Box component="li" key={key} sx={{ overflowWrap: "anywhere" }}>
          <b>{line.reached || line.who}</b> {line.reached && line.who !== line.reached && `(${line.who}) `}by {line.by},{" "}
          {line.when}: {[...whats].join(", ")}
          {line.at && line.at > told.supposed && (
            <>
              , which arrives <Time at={line.at} zone={zone} />
            </>
          )}
          <Box component="span" sx={{ color: "text.secondary" }}>
            {" "}
            · {line.rule.startsWith("@") ? "the job's own" : line.rule}
          </Box>
        </Box>
      ))}
      {told.warnings.map((warning) => (
        <Typography component="li" key={warning} color="textSecondary">
          {warning.charAt(0).toUpperCase() + warning.slice(1)}.
        </Typography>
      ))}
    </Box>
  );
}
