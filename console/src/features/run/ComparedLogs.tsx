import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { lazy, Suspense, useMemo, useState } from "react";
import type { Run } from "../../api/types";
import { Panel } from "../../ui/Panel";
import { Trouble } from "../../ui/Trouble";
import { useLogEnd } from "./useComparison";

const SideBySide = lazy(() => import("../../ui/SideBySide"));

/** What the two said, beside each other; asked for when somebody wants it. */
export function ComparedLogs({ one, other }: { one: Run; other: Run }) {
  const [asked, setAsked] = useState(false);
  const first = useLogEnd(one, asked);
  const second = useLogEnd(other, asked);
  const labels = useMemo(() => [`The log of run ${one.number}`, `The log of run ${other.number}`], [one, other]);
  const single = [one, other].every((run) => run.kind !== "chain" && run.kind !== "sweep");
  if (!single) return null;
  const left = [first.data?.before ?? 0, second.data?.before ?? 0];
  return (
    <Panel title="Logs">
      {!asked && (
        <Button variant="outlined" onClick={() => setAsked(true)}>
          Show both logs
        </Button>
      )}
      <Trouble error={first.error ?? second.error} />
      {Math.max(...left) > 0 && (
        <Typography color="textSecondary" sx={{ mb: 1 }}>
          The ends of both; {left[0]} and {left[1]} lines before are left out.
        </Typography>
      )}
      {first.data && second.data && first.data.text === second.data.text && (
        <Typography>{first.data.text ? "Both said the same." : "Neither said anything."}</Typography>
      )}
      {first.data && second.data && first.data.text !== second.data.text && (
        <Suspense fallback={<Box sx={{ minHeight: 120 }} />}>
          <SideBySide plain left={first.data.text} right={second.data.text} labels={labels} />
        </Suspense>
      )}
    </Panel>
  );
}
