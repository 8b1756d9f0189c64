package org.gantrel.icalendar;

import java.io.IOException;
import java.io.StringReader;
import java.time.LocalDate;
import java.time.format.DateTimeFormatter;
import java.time.temporal.ChronoField;
import java.time.temporal.Temporal;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import net.fortuna.ical4j.data.CalendarBuilder;
import net.fortuna.ical4j.data.ParserException;
import net.fortuna.ical4j.model.Property;
import net.fortuna.ical4j.model.component.VEvent;
import net.fortuna.ical4j.model.property.DtEnd;
import net.fortuna.ical4j.model.property.DtStart;
import net.fortuna.ical4j.model.property.Summary;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.problem.Problem;
import org.gantrel.core.when.When;
import org.gantrel.core.when.WhenException;

/** Reads the days of an iCalendar file (RFC 5545): each event's own, and those of its rule. */
public final class IcsReader {

    /** The longest file that is taken, in characters. */
    public static final int LONGEST = 2_000_000;

    private static final int MOST_EVENTS = 2_000;
    private static final DateTimeFormatter BASIC = DateTimeFormatter.BASIC_ISO_DATE;

    private final List<String> lines;
    private final List<Problem> problems = new ArrayList<>();

    private IcsReader(String text) {
        this.lines = text.lines().toList();
    }

    /**
     * Reads a file.
     *
     * @throws InvalidException with every event that is wrong and its line
     */
    public static List<DayEvent> read(String text) {
        if (text.length() > LONGEST) {
            throw new InvalidException("", "too long: " + text.length() + " characters, at most " + LONGEST);
        }
        return new IcsReader(text).events(text);
    }

    private List<DayEvent> events(String text) {
        var found = new ArrayList<DayEvent>();
        List<VEvent> events = parse(text).getComponents("VEVENT");
        if (events.isEmpty() || events.size() > MOST_EVENTS) {
            throw new InvalidException(
                    "", "1 to " + MOST_EVENTS + " events (VEVENT) are expected, and there are " + events.size());
        }
        for (int i = 0; i < events.size(); i++) {
            try {
                found.add(event(events.get(i)));
            } catch (WhenException e) {
                complain(i, events.get(i), e.getMessage());
            } catch (RuntimeException e) {
                complain(i, events.get(i), "its days cannot be read: " + e.getMessage());
            }
        }
        if (!problems.isEmpty()) {
            throw new InvalidException(problems);
        }
        return found;
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

    private DayEvent event(VEvent event) {
        DtStart<Temporal> start = event.<DtStart<Temporal>>getProperty(Property.DTSTART)
                .orElseThrow(() -> new WhenException(1, "it has no DTSTART"));
        LocalDate first = date(start.getDate());
        LocalDate last = event.<DtEnd<Temporal>>getProperty(Property.DTEND)
                .map(end -> lastDay(first, end.getDate()))
                .orElse(first);
        String label = event.<Summary>getProperty(Property.SUMMARY)
                .map(Summary::getValue)
                .orElse("");
        return new DayEvent(first, last, label.length() > 100 ? label.substring(0, 100) : label, rule(event, first));
    }

    /** The end of a whole day is not part of it; that of a time is, unless it is midnight. */
    private static LocalDate lastDay(LocalDate first, Temporal end) {
        boolean midnight = !end.isSupported(ChronoField.SECOND_OF_DAY) || end.get(ChronoField.SECOND_OF_DAY) == 0;
        LocalDate last = midnight ? date(end).minusDays(1) : date(end);
        return last.isBefore(first) ? first : last;
    }

    private static Optional<String> rule(VEvent event, LocalDate first) {
        Optional<Property> rule = event.getProperty(Property.RRULE);
        if (rule.isEmpty()) {
            return Optional.empty();
        }
        var text = new StringBuilder(
                "DTSTART:" + first.format(BASIC) + " RRULE:" + rule.get().getValue());
        event.getProperties(Property.EXDATE).forEach(except -> text.append(" EXDATE:")
                .append(except.getValue().replaceAll("T\\d{6}Z?", "")));
        When.parse(text.toString());
        return Optional.of(text.toString());
    }

    private static LocalDate date(Temporal temporal) {
        return LocalDate.ofEpochDay(temporal.getLong(ChronoField.EPOCH_DAY));
    }

    private void complain(int index, VEvent event, String message) {
        int seen = -1;
        int line = 0;
        while (line < lines.size() && seen < index) {
            if (lines.get(line++).strip().equalsIgnoreCase("BEGIN:VEVENT")) {
                seen++;
            }
        }
        String name = event.<Summary>getProperty(Property.SUMMARY)
                .map(Summary::getValue)
                .orElse("");
        problems.add(new Problem("event " + (index + 1) + (name.isEmpty() ? "" : " (" + name + ")"), line, 1, message));
    }

    private String eventAt(int line) {
        long events = lines.stream()
                .limit(line)
                .filter(text -> text.strip().equalsIgnoreCase("BEGIN:VEVENT"))
                .count();
        return events == 0 ? "" : "event " + events;
    }
}
