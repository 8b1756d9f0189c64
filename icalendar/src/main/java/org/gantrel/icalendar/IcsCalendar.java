package org.gantrel.icalendar;

import java.util.List;
import java.util.Optional;
import org.gantrel.core.calendar.Calendar;
import org.gantrel.core.calendar.Calendar.Base;
import org.gantrel.core.calendar.Calendar.Move;
import org.gantrel.core.calendar.Calendar.Special;
import org.gantrel.core.calendar.CalendarDays;
import org.gantrel.core.when.DayPhrase;
import org.gantrel.core.when.DaySet;

/** Makes a calendar of an iCalendar file: the days of its events are the days of the calendar. */
public final class IcsCalendar {

    private IcsCalendar() {}

    /** The calendar itself. */
    public static CalendarDays of(String name, List<DayEvent> events) {
        List<Special> open = events.stream().map(IcsCalendar::special).toList();
        return new CalendarDays(
                new Calendar(name, "", "", new Base.Week(0), List.of(), List.of(), List.of(), open, Optional.empty()),
                other -> {
                    throw new IllegalArgumentException(other);
                });
    }

    private static Special special(DayEvent event) {
        long first = event.first().toEpochDay();
        long last = event.last().toEpochDay();
        DaySet once = day -> day > last ? DaySet.NEVER : Math.max(day, first);
        DaySet days = event.rule()
                .map(rule -> spread(DayPhrase.ofRule(rule).days(), last - first))
                .orElse(once);
        return new Special("", days, event.label(), Move.STAYS);
    }

    /** Events of several days that come again. */
    private static DaySet spread(DaySet firsts, long more) {
        return more == 0
                ? firsts
                : day -> {
                    long begun = firsts.next(day - more);
                    return begun == DaySet.NEVER ? DaySet.NEVER : Math.max(begun, day);
                };
    }

    /** The definition file of the calendar, with what was not taken over as comments. */
    public static String definition(String name, String team, IcsFile file) {
        var text = new StringBuilder();
        file.remarks().forEach(remark -> text.append("# not taken over: ")
                .append(remark.replaceAll("\\p{Cntrl}", " "))
                .append('\n'));
        text.append("calendar: " + name + "\nteam: " + team + "\ndays: none\nopen:\n");
        for (DayEvent event : file.events()) {
            String label = event.label().isEmpty() ? "" : ", label: " + quoted(event.label());
            String days = event.rule()
                    .map(rule -> "rule: " + quoted(rule))
                    .orElseGet(() -> event.first().equals(event.last())
                            ? "on: " + event.first()
                            : "from: " + event.first() + ", to: " + event.last());
            text.append("  - { ").append(days).append(label).append(" }\n");
        }
        return text.toString();
    }

    private static String quoted(String text) {
        return "\"" + text.replace("\\", "\\\\").replace("\"", "\\\"").replaceAll("\\p{Cntrl}", " ") + "\"";
    }
}
