package org.gantrel.icalendar;

import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.time.ZonedDateTime;
import java.time.format.DateTimeFormatter;
import java.time.temporal.ChronoField;
import java.time.temporal.Temporal;
import java.time.temporal.TemporalAmount;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import net.fortuna.ical4j.model.Property;
import net.fortuna.ical4j.model.component.VEvent;
import net.fortuna.ical4j.model.property.DateListProperty;
import net.fortuna.ical4j.model.property.DateProperty;
import net.fortuna.ical4j.model.property.DtEnd;
import net.fortuna.ical4j.model.property.DtStart;
import net.fortuna.ical4j.model.property.Duration;
import net.fortuna.ical4j.model.property.RDate;
import net.fortuna.ical4j.model.property.Summary;
import org.gantrel.core.when.When;
import org.gantrel.core.when.WhenException;

/**
 * The days of one event (RFC 5545, 3.6.1): from its start to its end or over its duration, again by its rule and further
 * dates, without its exceptions. All is reckoned in the local time of its start.
 */
final class EventDays {

    private static final DateTimeFormatter DAY = DateTimeFormatter.BASIC_ISO_DATE;
    private static final DateTimeFormatter TIME = DateTimeFormatter.ofPattern("yyyyMMdd'T'HHmmss");
    private static final Pattern UNTIL = Pattern.compile("(?i)(UNTIL=)(\\d{8}T\\d{6})Z");
    private static final int LONGEST_LABEL = 100;

    private final VEvent event;
    private final Temporal start;
    private final ZoneId zone;
    private final boolean wholeDays;

    EventDays(VEvent event) {
        this.event = event;
        this.start = event.<DtStart<Temporal>>getProperty(Property.DTSTART)
                .map(DateProperty::getDate)
                .orElseThrow(() -> new WhenException(1, "it has no DTSTART"));
        this.wholeDays =
                !start.isSupported(ChronoField.SECOND_OF_DAY) && !start.isSupported(ChronoField.INSTANT_SECONDS);
        this.zone = start instanceof ZonedDateTime zoned ? zoned.getZone() : ZoneOffset.UTC;
    }

    /**
     * Its days, or those of each of its dates.
     *
     * @param replaced dates of it that other events of the file stand for
     */
    List<DayEvent> days(Collection<Temporal> replaced) {
        refuse();
        LocalDate first = local(start).toLocalDate();
        long more = lastDay().toEpochDay() - first.toEpochDay();
        List<Temporal> except = Stream.concat(dates(Property.EXDATE).stream(), replaced.stream())
                .toList();
        List<Property> rules = event.getProperties(Property.RRULE);
        var found = new ArrayList<DayEvent>();
        if (rules.isEmpty()) {
            Stream.concat(Stream.of(start), dates(Property.RDATE).stream())
                    .filter(date -> except.stream().noneMatch(other -> isSame(date, other)))
                    .map(date -> local(date).toLocalDate())
                    .distinct()
                    .sorted()
                    .forEach(day -> found.add(new DayEvent(day, day.plusDays(more), label(), Optional.empty())));
        } else {
            found.add(new DayEvent(first, first.plusDays(more), label(), Optional.of(rule(rules.get(0), except))));
        }
        periods(found, except);
        return found;
    }

    /** What would change the days and is not understood. */
    private void refuse() {
        if (!event.getProperties("EXRULE").isEmpty()) {
            throw new WhenException(1, "EXRULE is not understood; RFC 5545 has EXDATE for it");
        }
        if (event.getProperties(Property.RRULE).size() > 1) {
            throw new WhenException(1, "it has more than one RRULE; one event each would be understood");
        }
        boolean range = event.getProperty(Property.RECURRENCE_ID)
                .flatMap(id -> id.getParameter("RANGE"))
                .isPresent();
        if (range) {
            throw new WhenException(
                    1, "RECURRENCE-ID with RANGE is not understood; an event with a rule of its own would be");
        }
    }

    private String label() {
        String text = event.<Summary>getProperty(Property.SUMMARY)
                .map(Summary::getValue)
                .orElse("");
        return text.length() > LONGEST_LABEL ? text.substring(0, LONGEST_LABEL) : text;
    }

    /** The end of a whole day is not part of it; that of a time is, unless it is midnight. */
    private LocalDate lastDay() {
        LocalDateTime begin = local(start);
        Optional<LocalDateTime> end = event.<DtEnd<Temporal>>getProperty(Property.DTEND)
                .map(property -> local(property.getDate()))
                .or(() -> event.<Duration>getProperty(Property.DURATION)
                        .map(property -> local(plus(property.getDuration()))));
        if (end.isPresent() && end.get().isBefore(begin)) {
            throw new WhenException(1, "it ends before it begins");
        }
        LocalDateTime last =
                end.filter(at -> at.isAfter(begin)).orElse(wholeDays ? begin.plusDays(1) : begin.plusSeconds(1));
        return last.toLocalTime().equals(LocalTime.MIDNIGHT)
                ? last.toLocalDate().minusDays(1)
                : last.toLocalDate();
    }

    private Temporal plus(TemporalAmount amount) {
        Temporal begin = wholeDays ? local(start) : start;
        return begin.plus(amount);
    }

    private String rule(Property rule, List<Temporal> except) {
        var text = new StringBuilder("DTSTART:" + stamp(start) + " RRULE:" + until(rule.getValue()));
        dates(Property.RDATE).forEach(date -> text.append(" RDATE:").append(stamp(date)));
        except.forEach(date -> text.append(" EXDATE:").append(stamp(date)));
        When.parse(text.toString());
        return text.toString();
    }

    /** An end that is an instant, in the local time of the start. */
    private String until(String rule) {
        Matcher end = UNTIL.matcher(rule);
        if (!end.find() || wholeDays) {
            return rule;
        }
        LocalDateTime local = LocalDateTime.parse(end.group(2), TIME)
                .atOffset(ZoneOffset.UTC)
                .atZoneSameInstant(zone)
                .toLocalDateTime();
        return end.replaceFirst("$1" + TIME.format(local));
    }

    /** Further dates that say how long they last. */
    private void periods(List<DayEvent> found, List<Temporal> except) {
        for (Property property : event.getProperties(Property.RDATE)) {
            ((RDate<?>) property).getPeriods().ifPresent(all -> all.stream()
                    .filter(period -> except.stream().noneMatch(other -> isSame(period.getStart(), other)))
                    .forEach(period -> {
                        LocalDate first = local(period.getStart()).toLocalDate();
                        LocalDateTime end = local(period.getEnd());
                        LocalDate last = end.toLocalTime().equals(LocalTime.MIDNIGHT)
                                ? end.toLocalDate().minusDays(1)
                                : end.toLocalDate();
                        found.add(new DayEvent(first, last.isBefore(first) ? first : last, label(), Optional.empty()));
                    }));
        }
    }

    private List<Temporal> dates(String name) {
        return event.getProperties(name).stream()
                .filter(property -> !(property instanceof RDate<?> further
                        && further.getPeriods().filter(all -> !all.isEmpty()).isPresent()))
                .<Temporal>flatMap(property -> ((DateListProperty<?>) property).getDates().stream())
                .toList();
    }

    /** A day alone stands for any time of it. */
    private boolean isSame(Temporal date, Temporal other) {
        boolean day = other instanceof LocalDate || date instanceof LocalDate;
        return day
                ? local(date).toLocalDate().equals(local(other).toLocalDate())
                : local(date).equals(local(other));
    }

    private String stamp(Temporal date) {
        return wholeDays || date instanceof LocalDate ? DAY.format(local(date)) : TIME.format(local(date));
    }

    private LocalDateTime local(Temporal temporal) {
        if (temporal.isSupported(ChronoField.INSTANT_SECONDS)) {
            return LocalDateTime.ofInstant(java.time.Instant.from(temporal), zone);
        }
        LocalDate day = LocalDate.ofEpochDay(temporal.getLong(ChronoField.EPOCH_DAY));
        return temporal.isSupported(ChronoField.SECOND_OF_DAY)
                ? day.atTime(LocalTime.ofSecondOfDay(temporal.getLong(ChronoField.SECOND_OF_DAY)))
                : day.atStartOfDay();
    }
}
