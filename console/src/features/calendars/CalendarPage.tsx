import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import { Link as RouterLink, useParams, useSearchParams } from "react-router";
import { NotYet } from "../../ui/Asked";
import { useMe } from "../../ui/me";
import { Panel } from "../../ui/Panel";
import { Trouble } from "../../ui/Trouble";
import { Definition } from "../jobs/Definition";
import { RetireButton } from "../revisions/RetireButton";
import { RevisionsPanel } from "../revisions/RevisionsPanel";
import { useCalendar, useYear } from "./useCalendars";
import { YearBar } from "./YearBar";
import { YearView } from "./YearView";

const TODAY = new Date().toISOString().slice(0, 10);

/** Which days does a calendar have, and what falls on them? */
export function CalendarPage() {
  const { name = "" } = useParams();
  const me = useMe();
  const [address, setAddress] = useSearchParams();
  const year = Number(address.get("year") ?? TODAY.slice(0, 4));
  const calendar = useCalendar(name);
  const days = useYear(name, year);
  if (!calendar.data) return <NotYet query={calendar} />;
  const { body, tag } = calendar.data;
  const open = (days.data ?? []).filter((day) => day.open).length;
  return (
    <>
      <title>{`${name} · Gantrel`}</title>
      <Box sx={{ display: "flex", flexWrap: "wrap", alignItems: "center", gap: 1.5, mb: 0.5 }}>
        <Typography variant="h1">{name}</Typography>
        <Typography color="textSecondary">
          calendar of {body.team}, revision {body.revision}
          {body.hours && `, ${body.hours}`}
        </Typography>
        <Box sx={{ ml: "auto", display: "flex", gap: 1 }}>
          <Button component="a" href={`/api/v1/calendars/${name}/ics`} download>
            iCalendar
          </Button>
          {me.teams[body.team]?.includes("retire-jobs") && (
            <RetireButton
              nouns="calendars"
              noun="calendar"
              name={name}
              then="/calendars"
              stale={["calendar", "calendars"]}
              usedBy={body.usedBy}
            />
          )}
          {body.mayChange && (
            <Button component={RouterLink} to={`/calendars/${name}/edit?year=${year}`} variant="outlined">
              Edit
            </Button>
          )}
        </Box>
      </Box>
      <Typography sx={{ mb: 2 }}>
        {body.about || "Nobody has written down what it is for"}: {open} days in {year}.
      </Typography>
      <Trouble error={days.error} />
      <Box sx={{ display: "grid", gap: 2, gridTemplateColumns: { xs: "minmax(0, 1fr)", lg: "minmax(0, 3fr) 1fr" } }}>
        <Panel title="Days">
          <YearBar year={year} onYear={(next) => setAddress({ year: String(next) }, { replace: true })} />
          <YearView days={days.data ?? []} today={TODAY} />
        </Panel>
        <Box sx={{ display: "grid", gap: 2, alignContent: "start" }}>
          <Panel title="Schedules">
            {body.usedBy.length === 0 && <Typography color="textSecondary">No schedule speaks of it.</Typography>}
            {body.usedBy.map((user) => (
              <Box key={user}>
                <Link component={RouterLink} to={`/jobs/${user.split(" / ")[0]}`}>
                  {user}
                </Link>
              </Box>
            ))}
          </Panel>
          <Panel title="Definition">
            <Definition text={body.definition ?? ""} />
            <RevisionsPanel
              nouns="calendars"
              name={name}
              tag={tag}
              mayPutBack={body.mayChange}
              stale={["calendar", "calendars", "schedules"]}
            />
          </Panel>
        </Box>
      </Box>
    </>
  );
}
