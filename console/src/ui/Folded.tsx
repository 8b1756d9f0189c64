import Box from "@mui/material/Box";
import { type ReactNode, useState } from "react";

/** A part of a form that only some need; it stays as one leaves it. */
export function Folded({ title, open, children }: { title: string; open: boolean; children: ReactNode }) {
  const [begun] = useState(open);
  return (
    <Box component="details" open={begun}>
      <Box component="summary" sx={{ cursor: "pointer", fontWeight: 600, mb: 1 }}>
        {title}
      </Box>
      <Box sx={{ display: "grid", gap: 1.5 }}>{children}</Box>
    </Box>
  );
}
