/** The pages of the console, in the order of the side; what is only for administrators says so. */
export type PageEntry = { to: string; name: string; also?: string; administrators?: boolean; words?: string };

export const PAGE_GROUPS: { title: string; pages: PageEntry[] }[] = [
  {
    title: "Work",
    pages: [
      { to: "/", name: "Today", words: "board attention night" },
      { to: "/history", name: "History", also: "/runs", words: "runs log" },
      { to: "/ahead", name: "Ahead", words: "forecast coming starts" },
      { to: "/faults", name: "Faults" },
      { to: "/events", name: "Events", words: "journal triggers" },
    ],
  },
  {
    title: "Definitions",
    pages: [
      { to: "/jobs", name: "Jobs", also: "/new-job", words: "tasks chains" },
      { to: "/schedules", name: "Schedules" },
      { to: "/calendars", name: "Calendars", also: "/new-calendar" },
      { to: "/rosters", name: "Rosters" },
      { to: "/lanes", name: "Lanes" },
      { to: "/holds", name: "Holds" },
      { to: "/credentials", name: "Credentials" },
      { to: "/files", name: "Import and export", words: "definition files yaml" },
    ],
  },
  {
    title: "People",
    pages: [
      { to: "/notifications", name: "Notifications", words: "mail rules deliveries duty" },
      { to: "/changes", name: "Changes", words: "audit" },
      { to: "/people", name: "People and teams", words: "roles members accounts" },
      { to: "/installation", name: "Installation", administrators: true, words: "health disk settings key version" },
    ],
  },
];

export const ME_PAGE: PageEntry = { to: "/me", name: "My profile", words: "password tokens feeds quiet hours" };
