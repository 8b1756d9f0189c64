import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { ReactNode } from "react";

/** Says that there is nothing here, and what to do next. */
export function Empty({ title, hint, children }: { title: string; hint?: string; children?: ReactNode }) {
  return (
    <Box sx={{ py: 6, px: 3, textAlign: "center" }}>
      <Typography variant="h2" gutterBottom>
        {title}
      </Typography>
      {hint && <Typography color="textSecondary">{hint}</Typography>}
      {children && <Box sx={{ mt: 2 }}>{children}</Box>}
    </Box>
  );
}
