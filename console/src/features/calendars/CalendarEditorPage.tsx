import { useParams } from "react-router";
import { NotYet } from "../../ui/Asked";
import { useMe } from "../../ui/me";
import { ReadOnly } from "../../ui/ReadOnly";
import { CalendarEditor } from "./CalendarEditor";
import { newCalendar } from "./calendarDraft";
import { useCalendar } from "./useCalendars";

/** Makes a calendar, or changes one. */
export function CalendarEditorPage() {
  const { name = "" } = useParams();
  const me = useMe();
  const calendar = useCalendar(name);
  if (name && !calendar.data) return <NotYet query={calendar} />;
  if (calendar.data && !calendar.data.body.mayChange) {
    return (
      <ReadOnly
        title={name}
        why={`You may look; changing it is for editors of ${calendar.data.body.team}.`}
        text={calendar.data.body.definition ?? ""}
      />
    );
  }
  const team = Object.keys(me.teams).find((each) => me.teams[each].includes("define-calendars")) ?? "";
  const written = calendar.data?.body.definition ?? newCalendar(team);
  return <CalendarEditor key={name} name={name} team={team} written={written} tag={calendar.data?.tag} />;
}
