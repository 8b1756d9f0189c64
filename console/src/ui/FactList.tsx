import Box from "@mui/material/Box";
import type { ReactNode } from "react";

/** Names with what is known under them, side by side. */
export function FactList({ children }: { children: ReactNode }) {
  return (
    <Box
      component="dl"
      sx={{
        m: 0,
        display: "grid",
        gridTemplateColumns: "auto minmax(0, 1fr)",
        columnGap: 2,
        rowGap: 0.6,
        fontSize: "0.86rem",
      }}
    >
      {children}
    </Box>
  );
}

export function Fact({ name, children }: { name: string; children: ReactNode }) {
  return (
    <>
      <Box component="dt" sx={{ color: "text.secondary" }}>
        {name}
      </Box>
      <Box component="dd" sx={{ m: 0, minWidth: 0, overflowWrap: "anywhere" }}>
        {children}
      </Box>
    </>
  );
}
