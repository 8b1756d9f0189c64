package org.gantrel.icalendar;

import java.io.IOException;
import java.io.StringWriter;
import java.io.UncheckedIOException;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import net.fortuna.ical4j.data.CalendarOutputter;
import net.fortuna.ical4j.model.Calendar;
import net.fortuna.ical4j.model.component.VEvent;
import net.fortuna.ical4j.model.property.Description;
import net.fortuna.ical4j.model.property.ProdId;
import net.fortuna.ical4j.model.property.Uid;
import net.fortuna.ical4j.model.property.XProperty;
import net.fortuna.ical4j.model.property.immutable.ImmutableVersion;

/** Writes iCalendar text (RFC 5545). */
public final class IcsWriter {

    /** A run that is to come. */
    public record ComingRun(String id, Instant at, Duration length, String title, String about) {}

    private IcsWriter() {}

    /** Days in a row with the same label, as whole-day events. */
    public static String days(String name, List<DayEvent> events) {
        Calendar calendar = calendar(name);
        for (DayEvent event : events) {
            LocalDate end = event.last().plusDays(1);
            var written = new VEvent(event.first(), end, event.label().isEmpty() ? name : event.label());
            written.add(new Uid(event.first() + "-" + name + "@gantrel"));
            calendar.withComponent(written);
        }
        return text(calendar);
    }

    /** Coming runs, each as long as it usually takes. */
    public static String runs(String name, List<ComingRun> runs) {
        Calendar calendar = calendar(name);
        for (ComingRun run : runs) {
            var written = new VEvent(run.at(), run.at().plus(run.length()), run.title());
            written.add(new Uid(run.id() + "@gantrel"));
            written.add(new Description(run.about()));
            calendar.withComponent(written);
        }
        return text(calendar);
    }

    private static Calendar calendar(String name) {
        var calendar = new Calendar();
        calendar.add(new ProdId("-//Gantrel//Gantrel//EN"));
        calendar.add(ImmutableVersion.VERSION_2_0);
        calendar.add(new XProperty("X-WR-CALNAME", name));
        return calendar;
    }

    private static String text(Calendar calendar) {
        var text = new StringWriter();
        try {
            new CalendarOutputter(false).output(calendar, text);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return text.toString();
    }
}
