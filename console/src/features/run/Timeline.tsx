import Box from "@mui/material/Box";
import type { RunDetail } from "../../api/types";
import { Time } from "../../ui/Time";

export function Timeline({ run }: { run: RunDetail }) {
  return (
    <Box component="ol" sx={{ m: 0, pl: 0, listStyle: "none", fontSize: "0.84rem", display: "grid", gap: 0.8 }}>
      {run.timeline.map((moment, index) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: lines of a timeline are only ever added
        <Box component="li" key={index} sx={{ borderLeft: 2, borderColor: "divider", pl: 1.25 }}>
          <Box sx={{ color: "text.secondary" }}>
            <Time at={moment.at} zone={run.zone} as="seconds" />
          </Box>
          <Box sx={{ overflowWrap: "anywhere" }}>{moment.what}</Box>
        </Box>
      ))}
    </Box>
  );
}
