import { useQuery } from "@tanstack/react-query";
import { Route, Routes } from "react-router";
import { get, keepCsrf, Refused } from "./api/client";
import type { Me } from "./api/types";
import { CalendarEditorPage } from "./features/calendars/CalendarEditorPage";
import { CalendarPage } from "./features/calendars/CalendarPage";
import { CalendarsPage } from "./features/calendars/CalendarsPage";
import { ChangesPage } from "./features/changes/ChangesPage";
import { CredentialsPage } from "./features/credentials/CredentialsPage";
import { EventsPage } from "./features/events/EventsPage";
import { FaultPage } from "./features/faults/FaultPage";
import { FaultsPage } from "./features/faults/FaultsPage";
import { HistoryPage } from "./features/history/HistoryPage";
import { JobEditorPage } from "./features/jobs/JobEditorPage";
import { JobPage } from "./features/jobs/JobPage";
import { JobsPage } from "./features/jobs/JobsPage";
import { HoldsPage } from "./features/lanes/HoldsPage";
import { LanePage } from "./features/lanes/LanePage";
import { LanesPage } from "./features/lanes/LanesPage";
import { NotificationsPage } from "./features/notifications/NotificationsPage";
import { RosterPage } from "./features/rosters/RosterPage";
import { RostersPage } from "./features/rosters/RostersPage";
import { RunPage } from "./features/run/RunPage";
import { ScheduleEditorPage } from "./features/schedules/ScheduleEditorPage";
import { SchedulesPage } from "./features/schedules/SchedulesPage";
import { SignInPage } from "./features/signin/SignInPage";
import { StartersPage } from "./features/starters/StartersPage";
import { TodayPage } from "./features/today/TodayPage";
import { Empty } from "./ui/Empty";
import { MeContext } from "./ui/me";
import { Shell } from "./ui/Shell";
import { Trouble } from "./ui/Trouble";

export function App() {
  const me = useQuery({
    queryKey: ["me"],
    queryFn: async () => {
      const found = await get<Me>("/api/v1/me");
      keepCsrf(found.csrf);
      return found;
    },
    staleTime: Number.POSITIVE_INFINITY,
  });
  if (me.error instanceof Refused && me.error.status === 401) return <SignInPage />;
  if (me.error) return <Trouble error={me.error} />;
  if (!me.data) return null;
  return (
    <MeContext value={me.data}>
      <Shell>
        <Routes>
          <Route path="/" element={<TodayPage />} />
          <Route path="/history" element={<HistoryPage />} />
          <Route path="/runs/:number" element={<RunPage />} />
          <Route path="/jobs" element={<JobsPage />} />
          <Route path="/new-job" element={<JobEditorPage />} />
          <Route path="/jobs/:name" element={<JobPage />} />
          <Route path="/jobs/:name/edit" element={<JobEditorPage />} />
          <Route path="/jobs/:name/new-schedule" element={<ScheduleEditorPage />} />
          <Route path="/jobs/:name/schedules/:schedule" element={<ScheduleEditorPage />} />
          <Route path="/schedules" element={<SchedulesPage />} />
          <Route path="/calendars" element={<CalendarsPage />} />
          <Route path="/calendars/:name" element={<CalendarPage />} />
          <Route path="/new-calendar" element={<CalendarEditorPage />} />
          <Route path="/calendars/:name/edit" element={<CalendarEditorPage />} />
          <Route path="/rosters" element={<RostersPage />} />
          <Route path="/rosters/:name" element={<RosterPage />} />
          <Route path="/lanes" element={<LanesPage />} />
          <Route path="/lanes/:name" element={<LanePage />} />
          <Route path="/holds" element={<HoldsPage />} />
          <Route path="/credentials" element={<CredentialsPage />} />
          <Route path="/faults" element={<FaultsPage />} />
          <Route path="/events" element={<EventsPage />} />
          <Route path="/faults/:id" element={<FaultPage />} />
          <Route path="/notifications" element={<NotificationsPage />} />
          <Route path="/changes" element={<ChangesPage />} />
          <Route path="/starters" element={<StartersPage />} />
          <Route path="*" element={<Empty title="There is no such page" hint="The pages are listed at the side." />} />
        </Routes>
      </Shell>
    </MeContext>
  );
}
