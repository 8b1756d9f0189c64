import Box from "@mui/material/Box";
import { MONO } from "../../theme";

/** The definition as it was written. */
export function Definition({ text }: { text: string }) {
  return (
    <Box
      component="pre"
      tabIndex={0}
      sx={{ m: 0, fontFamily: MONO, fontSize: "0.8rem", overflow: "auto", whiteSpace: "pre-wrap" }}
    >
      {text}
    </Box>
  );
}
