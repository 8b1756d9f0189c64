package org.gantrel.icalendar;

import java.io.IOException;
import java.io.StringReader;
import java.time.temporal.Temporal;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;
import net.fortuna.ical4j.data.CalendarBuilder;
import net.fortuna.ical4j.data.ParserException;
import net.fortuna.ical4j.model.Property;
import net.fortuna.ical4j.model.component.VEvent;
import net.fortuna.ical4j.model.property.RecurrenceId;
import net.fortuna.ical4j.model.property.Summary;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.problem.Problem;
import org.gantrel.core.text.Words;
import org.gantrel.core.when.WhenException;

/** Reads the days of an iCalendar file (RFC 5545): each event's own, and those of its rule. */
public final class IcsReader {

    /** The longest file that is taken, in characters. */
    public static final int LONGEST = 2_000_000;

    private static final int MOST_EVENTS = 2_000;

    private final List<String> lines;
    private final List<Problem> problems = new ArrayList<>();
    private final List<String> remarks = new ArrayList<>();

    private IcsReader(String text) {
        this.lines = text.lines().toList();
    }

    /**
     * Reads a file.
     *
     * @throws InvalidException with every event that is wrong and its line
     */
    public static IcsFile read(String text) {
        if (text.length() > LONGEST) {
            throw new InvalidException("", "too long: " + text.length() + " characters, at most " + LONGEST);
        }
        return new IcsReader(text).file(text);
    }

    private IcsFile file(String text) {
        net.fortuna.ical4j.model.Calendar calendar = parse(text);
        List<VEvent> events = calendar.getComponents("VEVENT");
        if (events.isEmpty() || events.size() > MOST_EVENTS) {
            throw new InvalidException(
                    "", "1 to " + MOST_EVENTS + " events (VEVENT) are expected, and there are " + events.size());
        }
        Map<String, List<Temporal>> replaced = replaced(events);
        var found = new ArrayList<DayEvent>();
        for (int i = 0; i < events.size(); i++) {
            VEvent event = events.get(i);
            if (isCancelled(event)) {
                remarks.add("event " + (i + 1) + name(event) + " is cancelled");
                continue;
            }
            try {
                boolean whole = event.getProperty(Property.RECURRENCE_ID).isEmpty();
                found.addAll(
                        new EventDays(event).days(whole ? replaced.getOrDefault(uid(event), List.of()) : List.of()));
            } catch (WhenException e) {
                complain(i, event, e.getMessage());
            } catch (RuntimeException e) {
                complain(i, event, "its days cannot be read: " + e.getMessage());
            }
        }
        if (!problems.isEmpty()) {
            throw new InvalidException(problems);
        }
        calendar.getComponents().stream()
                .map(net.fortuna.ical4j.model.Component::getName)
                .filter(name -> !Set.of("VEVENT", "VTIMEZONE").contains(name))
                .collect(Collectors.groupingBy(name -> name, TreeMap::new, Collectors.counting()))
                .forEach((name, count) ->
                        remarks.add(Words.count(count.intValue(), name) + " without days of a calendar"));
        return new IcsFile(List.copyOf(found), List.copyOf(remarks));
    }

    /** The dates of events that come again for which the file has an event of its own, by the event's UID. */
    private static Map<String, List<Temporal>> replaced(List<VEvent> events) {
        var replaced = new HashMap<String, List<Temporal>>();
        for (VEvent event : events) {
            event.<RecurrenceId<Temporal>>getProperty(Property.RECURRENCE_ID)
                    .ifPresent(id -> replaced.computeIfAbsent(uid(event), uid -> new ArrayList<>())
                            .add(id.getDate()));
        }
        return replaced;
    }

    private static String uid(VEvent event) {
        return event.getProperty(Property.UID).map(Property::getValue).orElse("");
    }

    private static boolean isCancelled(VEvent event) {
        return event.getProperty(Property.STATUS)
                .filter(status -> status.getValue().equalsIgnoreCase("CANCELLED"))
                .isPresent();
    }

    private static String name(VEvent event) {
        return event.<Summary>getProperty(Property.SUMMARY)
                .map(summary -> " (" + summary.getValue() + ")")
                .orElse("");
    }

    private net.fortuna.ical4j.model.Calendar parse(String text) {
        try {
            return new CalendarBuilder().build(new StringReader(text));
        } catch (ParserException e) {
            int line = Math.max(1, e.getLineNo());
            throw new InvalidException(List.of(new Problem(
                    eventAt(line),
                    line,
                    1,
                    "no iCalendar: " + String.valueOf(e.getMessage()).replaceAll("^Error at line \\d+:", ""))));
        } catch (IOException | RuntimeException e) {
            throw new InvalidException("", "no iCalendar: " + e.getMessage());
        }
    }

    private void complain(int index, VEvent event, String message) {
        int seen = -1;
        int line = 0;
        while (line < lines.size() && seen < index) {
            if (lines.get(line++).strip().equalsIgnoreCase("BEGIN:VEVENT")) {
                seen++;
            }
        }
        problems.add(new Problem("event " + (index + 1) + name(event), line, 1, message));
    }

    private String eventAt(int line) {
        long events = lines.stream()
                .limit(line)
                .filter(text -> text.strip().equalsIgnoreCase("BEGIN:VEVENT"))
                .count();
        return events == 0 ? "" : "event " + events;
    }
}
