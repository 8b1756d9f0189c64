import { createBrowserRouter, Navigate, type RouteObject } from "react-router";
import { App } from "./App";
import { TodayPage } from "./features/today/TodayPage";
import { Coming } from "./ui/Asked";
import { Empty } from "./ui/Empty";
import { PageBroke } from "./ui/PageBroke";

type Loaded<Name extends string> = Record<Name, React.ComponentType>;

/** A page whose code comes when it is first opened. */
function page<Name extends string>(path: string, name: Name, load: () => Promise<Loaded<Name>>): RouteObject {
  return { path, lazy: async () => ({ Component: (await load())[name] }), HydrateFallback: Coming };
}

const PAGES: RouteObject[] = [
  { index: true, Component: TodayPage },
  page("history", "HistoryPage", () => import("./features/history/HistoryPage")),
  // what somebody gets who takes the number off the address of a run
  { path: "runs", element: <Navigate to="/history" replace /> },
  page("runs/:number", "RunPage", () => import("./features/run/RunPage")),
  page("runs/:number/comparison", "ComparisonPage", () => import("./features/run/ComparisonPage")),
  page("jobs", "JobsPage", () => import("./features/jobs/JobsPage")),
  page("new-job", "JobEditorPage", () => import("./features/jobs/JobEditorPage")),
  page("jobs/:name", "JobPage", () => import("./features/jobs/JobPage")),
  page("jobs/:name/edit", "JobEditorPage", () => import("./features/jobs/JobEditorPage")),
  page("jobs/:name/new-schedule", "ScheduleEditorPage", () => import("./features/schedules/ScheduleEditorPage")),
  page("jobs/:name/schedules/:schedule", "ScheduleEditorPage", () => import("./features/schedules/ScheduleEditorPage")),
  page("schedules", "SchedulesPage", () => import("./features/schedules/SchedulesPage")),
  page("calendars", "CalendarsPage", () => import("./features/calendars/CalendarsPage")),
  page("calendars/:name", "CalendarPage", () => import("./features/calendars/CalendarPage")),
  page("new-calendar", "CalendarEditorPage", () => import("./features/calendars/CalendarEditorPage")),
  page("calendars/:name/edit", "CalendarEditorPage", () => import("./features/calendars/CalendarEditorPage")),
  page("rosters", "RostersPage", () => import("./features/rosters/RostersPage")),
  page("rosters/:name", "RosterPage", () => import("./features/rosters/RosterPage")),
  page("lanes", "LanesPage", () => import("./features/lanes/LanesPage")),
  page("lanes/:name", "LanePage", () => import("./features/lanes/LanePage")),
  page("holds", "HoldsPage", () => import("./features/lanes/HoldsPage")),
  page("credentials", "CredentialsPage", () => import("./features/credentials/CredentialsPage")),
  page("faults", "FaultsPage", () => import("./features/faults/FaultsPage")),
  page("faults/:id", "FaultPage", () => import("./features/faults/FaultPage")),
  page("events", "EventsPage", () => import("./features/events/EventsPage")),
  page("notifications", "NotificationsPage", () => import("./features/notifications/NotificationsPage")),
  page("changes", "ChangesPage", () => import("./features/changes/ChangesPage")),
  page("ahead", "AheadPage", () => import("./features/ahead/AheadPage")),
  page("files", "FilesPage", () => import("./features/files/FilesPage")),
  page("people", "PeoplePage", () => import("./features/people/PeoplePage")),
  page("me", "MePage", () => import("./features/me/MePage")),
  page("installation", "InstallationPage", () => import("./features/installation/InstallationPage")),
  page("sign-out", "SignOutPage", () => import("./features/signin/SignOutPage")),
  page("starters", "StartersPage", () => import("./features/starters/StartersPage")),
];

const nowhere: RouteObject = {
  path: "*",
  element: <Empty title="There is no such page" hint="The pages are listed at the side." />,
};

export const router = createBrowserRouter([
  {
    Component: App,
    HydrateFallback: Coming,
    ErrorBoundary: PageBroke,
    // a page that breaks leaves the side and the find box where they are
    children: [{ ErrorBoundary: PageBroke, children: [...PAGES, nowhere] }],
  },
]);
