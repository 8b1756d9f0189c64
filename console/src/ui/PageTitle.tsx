import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { ReactNode } from "react";

/** The head of a page: what it is, a word about it, and what can be done. */
export function PageTitle({ title, about, children }: { title: string; about?: ReactNode; children?: ReactNode }) {
  return (
    <>
      <title>{`${title} · Gantrel`}</title>
      <Box sx={{ display: "flex", flexWrap: "wrap", alignItems: "center", gap: 1.5, mb: 1.5 }}>
        <Typography variant="h1" sx={{ overflowWrap: "anywhere" }}>
          {title}
        </Typography>
        {about && <Typography color="textSecondary">{about}</Typography>}
        <Box sx={{ ml: "auto", minWidth: 0, display: "flex", flexWrap: "wrap", gap: 1 }}>{children}</Box>
      </Box>
    </>
  );
}
