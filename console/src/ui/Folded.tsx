import Box from "@mui/material/Box";
import { type ReactNode, useState } from "react";

type Props = { title: string; open?: boolean; onOpen?: () => void; children: ReactNode };

/** A part of a form that only some need; it stays as one leaves it. */
export function Folded({ title, open = false, onOpen, children }: Props) {
  const [begun] = useState(open);
  return (
    <Box component="details" open={begun} onToggle={(event) => event.currentTarget.open && onOpen?.()}>
      <Box component="summary" sx={{ cursor: "pointer", fontWeight: 600, mb: 1 }}>
        {title}
      </Box>
      <Box sx={{ display: "grid", gap: 1.5 }}>{children}</Box>
    </Box>
  );
}
