import Box from "@mui/material/Box";
import { useDeferredValue } from "react";
import { Trouble } from "../../ui/Trouble";
import { ownZone } from "../../ui/times";
import { NextTimes } from "./NextTimes";
import { useExplanation } from "./useJobs";

/** What a schedule means, before it is saved. */
export function WhenPreview({ expression, zone }: { expression: string; zone: string }) {
  const asked = useDeferredValue(expression);
  const explanation = useExplanation(asked, zone);
  if (!expression) return null;
  if (explanation.error) return <Trouble error={explanation.error} />;
  if (!explanation.data) return null;
  return (
    <Box>
      <b>{explanation.data.phrase}</b>
      <NextTimes times={explanation.data.occurrences} zones={[zone, "UTC", ownZone()]} />
    </Box>
  );
}
