import Box from "@mui/material/Box";
import type { Job } from "../../api/types";
import { MONO } from "../../theme";

/** The definition as it was written. */
export function Definition({ job }: { job: Job }) {
  return (
    <Box
      component="pre"
      tabIndex={0}
      sx={{ m: 0, fontFamily: MONO, fontSize: "0.8rem", overflow: "auto", whiteSpace: "pre-wrap" }}
    >
      {job.definition}
    </Box>
  );
}
