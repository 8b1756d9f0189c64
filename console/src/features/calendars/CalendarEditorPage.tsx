import { useParams } from "react-router";
import { NotYet } from "../../ui/Asked";
import { useMe } from "../../ui/me";
import { CalendarEditor } from "./CalendarEditor";
import { newCalendar } from "./calendarDraft";
import { useCalendar } from "./useCalendars";

/** Makes a calendar, or changes one. */
export function CalendarEditorPage() {
  const { name = "" } = useParams();
  const me = useMe();
  const calendar = useCalendar(name);
  if (name && !calendar.data) return <NotYet query={calendar} />;
  const team = Object.keys(me.teams).find((each) => me.teams[each].includes("define-calendars")) ?? "";
  const written = calendar.data?.body.definition ?? newCalendar(team);
  return <CalendarEditor key={name} name={name} team={team} written={written} tag={calendar.data?.tag} />;
}
