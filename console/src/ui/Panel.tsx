import Box from "@mui/material/Box";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import type { ReactNode } from "react";

/** A part of a page with its title; a bare one has no frame of its own. */
export function Panel({ title, bare = false, children }: { title: string; bare?: boolean; children: ReactNode }) {
  const head = (
    <Typography variant="h2" sx={{ mb: 1 }}>
      {title}
    </Typography>
  );
  if (bare) {
    return (
      <Box component="section" aria-label={title} sx={{ mb: 1 }}>
        {head}
        {children}
      </Box>
    );
  }
  return (
    <Paper component="section" aria-label={title} sx={{ p: 1.75, minWidth: 0 }}>
      {head}
      {children}
    </Paper>
  );
}
