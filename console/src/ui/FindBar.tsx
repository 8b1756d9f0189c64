import Box from "@mui/material/Box";
import ButtonBase from "@mui/material/ButtonBase";
import Palette from "../features/find/Palette";
import { BellButton } from "../features/telling/BellButton";
import { MONO } from "../theme";
import { openPalette, usePaletteOpen } from "./palette";
import { TodayClock } from "./TodayClock";

/** The way to everything, the bell, and what time it is. */
export function FindBar() {
  const open = usePaletteOpen();
  return (
    <Box sx={{ display: "flex", alignItems: "center", gap: 2, mb: 2, "@media print": { display: "none" } }}>
      <ButtonBase onClick={openPalette} aria-haspopup="dialog" aria-keyshortcuts="/ Control+K" sx={BOX}>
        <Box component="span" sx={{ flex: 1, textAlign: "left", overflow: "hidden", whiteSpace: "nowrap" }}>
          Find a job, a run, a page …
        </Box>
        <Box component="kbd" aria-hidden sx={KBD}>
          /
        </Box>
      </ButtonBase>
      <Box sx={{ ml: "auto" }}>
        <BellButton />
      </Box>
      <TodayClock />
      {open && <Palette />}
    </Box>
  );
}

const BOX = {
  flex: 1,
  minWidth: 0,
  maxWidth: 560,
  border: 1,
  borderColor: "divider",
  borderRadius: 1.5,
  bgcolor: "background.paper",
  color: "text.secondary",
  font: "inherit",
  fontSize: "0.9rem",
  px: 1.5,
  py: 0.7,
} as const;

const KBD = { fontFamily: MONO, border: 1, borderColor: "divider", borderRadius: 0.75, px: 0.9 } as const;
