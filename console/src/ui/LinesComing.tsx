import Box from "@mui/material/Box";
import { MONO } from "../theme";

/** A text as it stands, until its editor is there. */
export function LinesComing({ text, minLines }: { text: string; minLines: number }) {
  return (
    <Box
      component="pre"
      aria-busy="true"
      sx={{
        m: 0,
        fontFamily: MONO,
        fontSize: "0.8rem",
        minHeight: `${minLines * 1.45}em`,
        whiteSpace: "pre-wrap",
        overflowWrap: "anywhere",
      }}
    >
      {text}
    </Box>
  );
}
