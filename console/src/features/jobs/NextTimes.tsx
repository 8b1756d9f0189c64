import Box from "@mui/material/Box";
import { MONO } from "../../theme";
import { dayAndClock, ownZone, relative, withinMinute, zoneName } from "../../ui/times";

/** The next times, in the schedule's zone, in UTC and in the reader's, side by side. */
export function NextTimes({ times, zones }: { times: string[]; zones: string[] }) {
  const columns = [...new Set(zones)];
  return (
    <Box sx={{ overflowX: "auto" }} tabIndex={0} role="region" aria-label="Coming starts in several zones">
      <Box
        component="table"
        sx={{
          fontFamily: MONO,
          fontSize: "0.74rem",
          borderSpacing: "0 2px",
          mt: 0.5,
          "& td, & th": { pr: 1.5, textAlign: "left", whiteSpace: "nowrap" },
        }}
      >
        <thead>
          <Box component="tr" sx={{ color: "text.secondary", "& th": { fontWeight: 450 } }}>
            {columns.map((zone) => (
              <th key={zone}>
                {zoneName(zone)}
                {zone === ownZone() ? " (yours)" : ""}
              </th>
            ))}
            <th />
          </Box>
        </thead>
        <tbody>
          {times.map((at) => (
            <tr key={at}>
              {columns.map((zone) => (
                <td key={zone}>{dayAndClock(at, zone, withinMinute(at))}</td>
              ))}
              <Box component="td" sx={{ color: "text.secondary" }}>
                {relative(at, Date.now())}
              </Box>
            </tr>
          ))}
        </tbody>
      </Box>
    </Box>
  );
}
