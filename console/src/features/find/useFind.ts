import { useQuery } from "@tanstack/react-query";
import { get, withQuery } from "../../api/client";
import type { Calendar, Credential, JobSummary, Lane, Roster, Run } from "../../api/types";
import { useMe } from "../../ui/me";
import { STATE_WORDS } from "../../ui/outcome";
import { ME_PAGE, PAGE_GROUPS } from "../../ui/pagesList";
import { ACTIONS, best, type HitGroup, MOST_HITS, runNumber } from "./hits";

type Named = { name: string; about?: string };
type PersonSeen = { name: string; fullName: string };

/** Things of one kind are asked for once and searched here; they are few. */
function useAll<T>(key: string, path: string, on: boolean) {
  return useQuery({ queryKey: [key], queryFn: () => get<T[]>(path), enabled: on, staleTime: 60_000 });
}

/** All that fits a text, by kind. */
export function useFind(text: string): { groups: HitGroup[]; searching: boolean } {
  const me = useMe();
  const words = text.trim().toLowerCase().split(/\s+/).filter(Boolean);
  const wanted = words.length > 0;
  const number = runNumber(text);
  const jobs = useQuery({
    queryKey: ["jobs", "find", words.join(" ")],
    queryFn: () => get<JobSummary[]>(withQuery("/api/v1/jobs", { q: words.join(" "), limit: 50 })),
    enabled: wanted,
    placeholderData: (before) => before,
  });
  const run = useQuery({
    queryKey: ["run", number, "find"],
    queryFn: () => get<Run>(`/api/v1/runs/${number}`).catch(() => null),
    enabled: number !== undefined,
  });
  const runs = useQuery({
    queryKey: ["runs", "find", words.join(" ")],
    queryFn: () => get<Run[]>(withQuery("/api/v1/runs", { q: words.join(" "), limit: MOST_HITS })),
    enabled: wanted && number === undefined && text.trim().length > 2,
    placeholderData: (before) => before,
  });
  const calendars = useAll<Calendar>("calendars", "/api/v1/calendars", true);
  const rosters = useAll<Roster>("rosters", "/api/v1/rosters", true);
  const credentials = useAll<Credential>("credentials", "/api/v1/credentials", true);
  const lanes = useAll<Lane>("lanes", "/api/v1/lanes", true);
  const teams = useAll<Named>("teams", "/api/v1/teams", true);
  const people = useAll<PersonSeen>("people", "/api/v1/people", me.administrator);

  const may = (deed?: string) => !deed || me.administrator || Object.values(me.teams).some((all) => all.includes(deed));
  const pages = [...PAGE_GROUPS.flatMap((group) => group.pages), ME_PAGE].filter(
    (page) => !page.administrators || me.administrator,
  );
  const named = <T extends Named>(title: string, things: T[] | undefined, to: (thing: T) => string): HitGroup => ({
    title,
    hits: wanted
      ? best(
          things ?? [],
          words,
          (each) => each.name,
          (each) => each.about ?? "",
        ).map((each) => ({ id: `${title}-${each.name}`, name: each.name, about: each.about, to: to(each) }))
      : [],
  });
  const groups: HitGroup[] = [
    {
      title: "Run",
      hits:
        run.data && number
          ? [{ id: `run-${number}`, name: `Run ${number}`, about: runWords(run.data), to: `/runs/${number}` }]
          : [],
    },
    named("Jobs", jobs.data, (job) => `/jobs/${job.name}`),
    {
      title: "Pages",
      hits: best(
        pages,
        words,
        (page) => page.name,
        (page) => page.words ?? "",
      ).map((page) => ({ id: `page-${page.to}`, name: page.name, to: page.to })),
    },
    named("Calendars", calendars.data, (each) => `/calendars/${each.name}`),
    named("Rosters", rosters.data, (each) => `/rosters/${each.name}`),
    named("Lanes", lanes.data, (each) => `/lanes/${each.name}`),
    named("Credentials", credentials.data, (each) => `/credentials?name=${each.name}`),
    named("Teams", teams.data, (each) => `/people?team=${each.name}`),
    named(
      "People",
      people.data?.map((each) => ({ name: each.name, about: each.fullName })),
      (each) => `/people?person=${each.name}`,
    ),
    {
      title: "Actions",
      hits: best(
        ACTIONS.filter((action) => may(action.deed)),
        words,
        (action) => action.name,
        () => "",
      ).map((action) => ({ id: `action-${action.name}`, name: action.name, to: action.to })),
    },
    {
      title: "Runs that hold these words",
      hits:
        wanted && runs.data && runs.data.length > 0
          ? [
              ...runs.data.map((each) => ({
                id: `runs-${each.number}`,
                name: `${each.job} · run ${each.number}`,
                about: `${STATE_WORDS[each.state]} ${Object.values(each.parameters).join(", ")}`.slice(0, 120),
                to: `/runs/${each.number}`,
              })),
              { id: "runs-all", name: "All of them in History", to: `/history?q=${encodeURIComponent(text.trim())}` },
            ]
          : [],
    },
  ];
  return { groups: groups.filter((group) => group.hits.length > 0), searching: jobs.isFetching || runs.isFetching };
}

const runWords = (run: Run) => `${run.job}, ${STATE_WORDS[run.state]}`;
