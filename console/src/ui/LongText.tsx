import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useState } from "react";

/** So much of a value is shown at first. */
const SHOWN = 240;

/** A value as it is, in its own direction; a long one folded, so that it does not push everything else away. */
export function LongText({ text }: { text: string }) {
  const [all, setAll] = useState(false);
  const long = text.length > SHOWN + 60;
  return (
    <Box component="bdi" sx={{ overflowWrap: "anywhere" }}>
      {long && !all ? `${text.slice(0, SHOWN)} …` : text}
      {long && (
        <Button onClick={() => setAll(!all)} sx={{ ml: 0.5, py: 0, minWidth: 0 }}>
          {all ? "Less" : `All ${text.length.toLocaleString("en")} characters`}
        </Button>
      )}
    </Box>
  );
}
