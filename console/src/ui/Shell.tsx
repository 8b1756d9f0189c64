import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Drawer from "@mui/material/Drawer";
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import { type ReactNode, useEffect, useRef, useState } from "react";
import { ScrollRestoration, useLocation, useNavigationType } from "react-router";
import { useLiveChanges } from "../api/live";
import { SessionEnded } from "../features/signin/SessionEnded";
import { DayIcon } from "./DayIcon";
import { FindBar } from "./FindBar";
import { Keys } from "./Keys";
import { LeaveQuestion } from "./LeaveQuestion";
import { LiveState } from "./LiveState";
import { Logo } from "./Logo";
import { NewVersion } from "./NewVersion";
import { PageComing } from "./PageComing";
import { PageLinks } from "./PageLinks";
import { Person } from "./Person";

/** What stands around every page: where one is, what one looks for, who one is, and whether what is shown is live. */
export function Shell({ children }: { children: ReactNode }) {
  useLiveChanges();
  const main = useRef<HTMLElement>(null);
  useFocusOnPage(main);
  return (
    <Box sx={{ display: "flex", flexDirection: { xs: "column", md: "row" }, minHeight: "100vh" }}>
      <Link href="#main" sx={SKIP} onClick={() => main.current?.focus()}>
        Skip to the page
      </Link>
      <PageComing />
      <DayIcon />
      <Keys />
      <Side />
      <TopBar />
      <Box
        component="main"
        id="main"
        ref={main}
        tabIndex={-1}
        sx={{ flex: 1, minWidth: 0, px: { xs: 1.5, md: 2.5 }, py: { xs: 1.5, md: 2 }, outline: "none" }}
      >
        <FindBar />
        <NewVersion />
        <LiveState />
        {children}
      </Box>
      <LeaveQuestion />
      <SessionEnded />
      <ScrollRestoration />
    </Box>
  );
}

const SKIP = {
  position: "absolute",
  left: -9999,
  zIndex: 2000,
  p: 1,
  bgcolor: "background.paper",
  "&:focus": { left: 8, top: 8 },
} as const;

/** Another page begins at its beginning for whoever uses the keyboard or listens; a filter in the address is no other page. */
function useFocusOnPage(main: React.RefObject<HTMLElement | null>) {
  const { pathname } = useLocation();
  const how = useNavigationType();
  const before = useRef(pathname);
  useEffect(() => {
    if (before.current === pathname) return;
    before.current = pathname;
    if (how !== "REPLACE" && !document.activeElement?.closest("[role=dialog]")) {
      main.current?.focus({ preventScroll: true });
    }
  }, [pathname, how, main]);
}

function Side() {
  return (
    <Box
      component="aside"
      sx={{
        width: 188,
        flexShrink: 0,
        bgcolor: "background.paper",
        borderRight: 1,
        borderColor: "divider",
        display: { xs: "none", md: "flex" },
        flexDirection: "column",
        position: "sticky",
        top: 0,
        height: "100vh",
        py: 2,
        "@media print": { display: "none" },
      }}
    >
      <Box sx={{ display: "flex", alignItems: "center", gap: 1, px: 2.5, pb: 1 }}>
        <Logo />
        <Typography sx={{ fontWeight: 700, fontSize: "1.1rem" }}>Gantrel</Typography>
      </Box>
      <Box sx={{ flex: 1, minHeight: 0, overflowY: "auto" }}>
        <PageLinks />
      </Box>
      <Person />
    </Box>
  );
}

/** What the side is on a phone: a menu with all pages by their names. */
function TopBar() {
  const [open, setOpen] = useState(false);
  const { pathname } = useLocation();
  // biome-ignore lint/correctness/useExhaustiveDependencies: another page shuts the menu
  useEffect(() => setOpen(false), [pathname]);
  return (
    <Box
      component="header"
      sx={{
        display: { xs: "flex", md: "none" },
        alignItems: "center",
        gap: 1,
        px: 1.5,
        py: 0.75,
        bgcolor: "background.paper",
        borderBottom: 1,
        borderColor: "divider",
        "@media print": { display: "none" },
      }}
    >
      <Logo />
      <Typography sx={{ fontWeight: 700, flex: 1 }}>Gantrel</Typography>
      <Button variant="outlined" aria-haspopup="menu" aria-expanded={open} onClick={() => setOpen(true)}>
        Menu
      </Button>
      <Drawer open={open} onClose={() => setOpen(false)} anchor="right">
        <Box sx={{ width: 240, py: 2, display: "flex", flexDirection: "column", minHeight: "100%" }}>
          <PageLinks />
          <Person />
        </Box>
      </Drawer>
    </Box>
  );
}
