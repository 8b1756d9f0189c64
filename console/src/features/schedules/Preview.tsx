import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { useDeferredValue } from "react";
import { MONO } from "../../theme";
import { Coming } from "../../ui/Asked";
import { Trouble } from "../../ui/Trouble";
import { fullDay, ownZone, withinMinute, zoneName } from "../../ui/times";
import { type Asked, usePreview } from "./useSchedules";

/** What a schedule means, before it is saved: its words, its next times beside each other, and what to beware of. */
export function Preview({ asked }: { asked: Asked }) {
  const preview = usePreview({ ...useDeferredValue(asked) });
  if (asked.expression.trim() === "") {
    return <Typography color="textSecondary">Say when, and its next times show here.</Typography>;
  }
  if (preview.error) return <Trouble error={preview.error} />;
  if (!preview.data) return <Coming lines={3} />;
  const { phrase, zone, details, cautions } = preview.data;
  const zones = [...new Set([zone, "UTC", ownZone()])];
  return (
    <Box>
      <Typography sx={{ fontWeight: 650, mb: 1 }}>{phrase}</Typography>
      {cautions.map((caution) => (
        <Alert key={caution} severity="warning" variant="outlined" sx={{ mb: 1, py: 0 }}>
          {caution}
        </Alert>
      ))}
      <Box sx={{ overflowX: "auto" }} tabIndex={0} role="region" aria-label="The coming starts">
        <Box
          component="table"
          sx={{
            fontFamily: MONO,
            fontSize: "0.76rem",
            borderSpacing: "0 3px",
            "& td, & th": { pr: 2, textAlign: "left", whiteSpace: "nowrap", fontWeight: 450 },
          }}
        >
          <thead>
            <Box component="tr" sx={{ color: "text.secondary" }}>
              {zones.map((each) => (
                <th key={each}>
                  {zoneName(each)}
                  {each === ownZone() ? " (yours)" : ""}
                </th>
              ))}
              <th />
            </Box>
          </thead>
          <tbody>
            {details.map(({ at, movedFrom, note }) => (
              <tr key={at}>
                {zones.map((each) => (
                  <td key={each}>{fullDay(at, each, withinMinute(at))}</td>
                ))}
                <Box component="td" sx={{ color: "warning.main" }}>
                  {[movedFrom && `moved from ${movedFrom}`, note].filter(Boolean).join("; ")}
                </Box>
              </tr>
            ))}
          </tbody>
        </Box>
      </Box>
    </Box>
  );
}
