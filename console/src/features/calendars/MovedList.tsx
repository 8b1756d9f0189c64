import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { Moved } from "../../api/types";
import { fullDay } from "../../ui/times";

const MOST = 5;

/** Which coming starts a change of a calendar would move, from what to what. */
export function MovedList({ moved, notCompared = 0 }: { moved: Moved[]; notCompared?: number }) {
  if (moved.length === 0 && notCompared === 0) {
    return <Typography color="textSecondary">No schedule starts at other times within three months.</Typography>;
  }
  return (
    <Box sx={{ display: "grid", gap: 1.25 }}>
      {moved.map((each) => (
        <Box key={`${each.job}/${each.schedule}/${each.team}`}>
          <b>{each.job ? `${each.job} / ${each.schedule}` : `a schedule of the team ${each.team}`}</b>
          <Times words="would not start" times={each.before} zone={each.zone} />
          <Times words="would start" times={each.then} zone={each.zone} />
        </Box>
      ))}
      {notCompared > 0 && (
        <Typography color="textSecondary">{notCompared} more schedules could not be compared in time.</Typography>
      )}
    </Box>
  );
}

function Times({ words, times, zone }: { words: string; times: string[]; zone: string }) {
  if (times.length === 0) return null;
  return (
    <Box sx={{ fontSize: "0.82rem" }}>
      {words}:{" "}
      {times
        .slice(0, MOST)
        .map((at) => fullDay(at, zone))
        .join("; ")}
      {times.length > MOST && ` and ${times.length - MOST} more`}
    </Box>
  );
}
