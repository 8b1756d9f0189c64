import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useQueryClient } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { NavLink, useLocation } from "react-router";
import { call } from "../api/client";
import { useLiveChanges } from "../api/live";
import { useColourMode } from "./ColourMode";
import { FindBox } from "./FindBox";
import { Keys } from "./Keys";
import { Logo } from "./Logo";
import { useMe } from "./me";

const PAGES = [
  { to: "/", name: "Today", also: "" },
  { to: "/history", name: "History", also: "/runs" },
  { to: "/faults", name: "Faults", also: "" },
  { to: "/events", name: "Events", also: "" },
  { to: "/jobs", name: "Jobs", also: "/new-job" },
  { to: "/schedules", name: "Schedules", also: "" },
  { to: "/calendars", name: "Calendars", also: "/new-calendar" },
  { to: "/rosters", name: "Rosters", also: "" },
  { to: "/lanes", name: "Lanes", also: "" },
  { to: "/holds", name: "Holds", also: "" },
  { to: "/credentials", name: "Credentials", also: "" },
  { to: "/notifications", name: "Notifications", also: "" },
  { to: "/changes", name: "Changes", also: "" },
];

/** What stands around every page: where one is, what one looks for, who one is. */
export function Shell({ children }: { children: ReactNode }) {
  useLiveChanges();
  return (
    <Box sx={{ display: "flex", flexDirection: { xs: "column", md: "row" }, minHeight: "100vh" }}>
      <Keys />
      <Side />
      <Box component="main" id="main" sx={{ flex: 1, minWidth: 0, px: { xs: 1.5, md: 2.5 }, py: { xs: 1.5, md: 2 } }}>
        <FindBox />
        {children}
      </Box>
    </Box>
  );
}

function Side() {
  return (
    <Box
      component="aside"
      sx={{
        width: { md: 188 },
        flexShrink: 0,
        bgcolor: "background.paper",
        borderRight: { md: 1 },
        borderBottom: { xs: 1, md: 0 },
        borderColor: { xs: "divider", md: "divider" },
        display: "flex",
        flexDirection: { xs: "row", md: "column" },
        alignItems: { xs: "center", md: "stretch" },
        position: { md: "sticky" },
        top: 0,
        height: { md: "100vh" },
        py: { xs: 0.5, md: 2 },
      }}
    >
      <Box sx={{ display: "flex", alignItems: "center", gap: 1, px: { xs: 1.5, md: 2.5 }, pb: { md: 1.5 } }}>
        <Logo />
        <Typography sx={{ fontWeight: 700, fontSize: "1.1rem", display: { xs: "none", sm: "block" } }}>
          Gantrel
        </Typography>
      </Box>
      <Box
        component="nav"
        aria-label="Pages"
        sx={{
          display: "flex",
          flexDirection: { xs: "row", md: "column" },
          px: { md: 1 },
          overflowX: "auto",
          minWidth: 0,
        }}
      >
        {PAGES.map((page) => (
          <PageLink key={page.to} {...page} />
        ))}
      </Box>
      <Person />
    </Box>
  );
}

function PageLink({ to, name, also }: { to: string; name: string; also: string }) {
  const { pathname } = useLocation();
  const here = to === "/" ? pathname === "/" : pathname.startsWith(to) || (also !== "" && pathname.startsWith(also));
  return (
    <Box
      component={NavLink}
      to={to}
      aria-current={here ? "page" : undefined}
      sx={{
        px: { xs: 1.25, md: 1.75 },
        py: 0.8,
        borderRadius: 1,
        textDecoration: "none",
        fontWeight: here ? 650 : 450,
        color: here ? "primary.main" : "text.primary",
        bgcolor: here ? "paper2" : "transparent",
        borderLeft: { md: 3 },
        borderColor: { md: here ? "primary.main" : "transparent" },
        "&:hover": { bgcolor: "paper2" },
      }}
    >
      {name}
    </Box>
  );
}

function Person() {
  const me = useMe();
  const queries = useQueryClient();
  const { choice, choose } = useColourMode();
  const signOut = async () => {
    await call("DELETE", "/api/v1/sessions/current");
    queries.clear();
    window.location.assign("/");
  };
  const next = choice === "light" ? "dark" : choice === "dark" ? "system" : "light";
  return (
    <Box sx={{ mt: { md: "auto" }, ml: { xs: "auto", md: 0 }, px: { xs: 1, md: 2.5 }, fontSize: "0.82rem" }}>
      <Box sx={{ fontWeight: 650, display: { xs: "none", md: "block" } }}>{me.fullName || me.name}</Box>
      <Box sx={{ color: "text.secondary", display: { xs: "none", md: "block" }, mb: 0.5 }}>
        {me.administrator ? "administrator" : `${Object.keys(me.teams).length} teams`}
      </Box>
      <Box sx={{ display: "flex", flexWrap: "wrap", ml: -0.75 }}>
        <Button
          onClick={() => choose(next)}
          aria-label={`Colours: ${choice}; change to ${next}`}
          sx={{ minWidth: 0, px: 0.75 }}
        >
          {choice}
        </Button>
        <Button onClick={signOut} sx={{ minWidth: 0, px: 0.75 }}>
          Sign out
        </Button>
      </Box>
    </Box>
  );
}
