package org.gantrel.core.when;

import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.YearMonth;
import java.time.ZoneId;
import java.util.BitSet;
import java.util.Optional;
import java.util.TreeSet;

/** A rule of minutes, hours, days, months and years. Phrases for times of the day are kept in the same form. */
final class Cron implements Timetable {

    /** 29 February on a given rule comes round within 8 years, or 12 across a century that has none. */
    private static final int YEARS_TO_SEARCH = 13;

    private final String text;
    private final BitSet minutes;
    private final BitSet hours;
    private final DayRule days;
    private final BitSet months;
    private final BitSet years;

    Cron(String text, BitSet minutes, BitSet hours, DayRule days, BitSet months, BitSet years) {
        this.text = text;
        this.minutes = minutes;
        this.hours = hours;
        this.days = days;
        this.months = months;
        this.years = years;
    }

    @Override
    public Kind kind() {
        return Kind.CRON;
    }

    @Override
    public String phrase() {
        return CronWords.phrase(minutes, hours, days, months, years);
    }

    @Override
    public String toString() {
        return text;
    }

    @Override
    public Optional<Instant> next(Instant after, ZoneId zone) {
        // A day that a zone skipped moves its times into the following day, so the day before is looked at too.
        LocalDate first = after.atZone(zone).toLocalDate().minusDays(1);
        LocalDate last = LocalDate.of(Math.max(first.getYear(), years.nextSetBit(0)), 1, 1)
                .plusYears(YEARS_TO_SEARCH);
        LocalDate day = nextDay(first, last);
        while (day != null) {
            Instant found = nextOn(day, after, zone);
            if (found != null) {
                return Optional.of(found);
            }
            day = nextDay(day.plusDays(1), last);
        }
        return Optional.empty();
    }

    /** The first day from the given one on that matches, or null where none comes before the end of the search. */
    private LocalDate nextDay(LocalDate from, LocalDate last) {
        LocalDate day = from;
        while (!day.isAfter(last)) {
            if (!years.get(day.getYear())) {
                int year = years.nextSetBit(day.getYear());
                if (year < 0) {
                    return null;
                }
                day = LocalDate.of(year, 1, 1);
            } else if (!months.get(day.getMonthValue())) {
                day = YearMonth.from(day).plusMonths(1).atDay(1);
            } else if (days.matches(day)) {
                return day;
            } else {
                day = day.plusDays(1);
            }
        }
        return null;
    }

    private Instant nextOn(LocalDate day, Instant after, ZoneId zone) {
        if (LocalDays.isPlain(day, zone)) {
            return nextOnPlain(day, after, zone);
        }
        Instant found = onShifted(day, zone).higher(after);
        LocalDate following = day.plusDays(1);
        if (found == null || found.isBefore(following.atStartOfDay(zone).toInstant()) || !days.matches(following)) {
            return found;
        }
        Instant rival = nextOn(following, after, zone);
        return rival != null && rival.isBefore(found) ? rival : found;
    }

    private Instant nextOnPlain(LocalDate day, Instant after, ZoneId zone) {
        var offset = zone.getRules().getOffset(day.atStartOfDay());
        LocalDateTime local = LocalDateTime.ofInstant(after, offset);
        int hour = 0;
        int minute = 0;
        if (local.toLocalDate().isAfter(day)) {
            return null;
        }
        if (local.toLocalDate().equals(day)) {
            hour = local.getHour();
            minute = local.getMinute() + 1;
        }
        int foundHour = hours.nextSetBit(hour);
        if (foundHour < 0) {
            return null;
        }
        int foundMinute = minutes.nextSetBit(foundHour == hour ? minute : 0);
        if (foundMinute < 0) {
            foundHour = hours.nextSetBit(foundHour + 1);
            foundMinute = minutes.nextSetBit(0);
        }
        return foundHour < 0 ? null : day.atTime(foundHour, foundMinute).toInstant(offset);
    }

    private TreeSet<Instant> onShifted(LocalDate day, ZoneId zone) {
        boolean hourOpen = hours.cardinality() == 24;
        var instants = new TreeSet<Instant>();
        for (int hour = hours.nextSetBit(0); hour >= 0; hour = hours.nextSetBit(hour + 1)) {
            for (int minute = minutes.nextSetBit(0); minute >= 0; minute = minutes.nextSetBit(minute + 1)) {
                LocalDays.addInstants(day, LocalTime.of(hour, minute), zone, hourOpen, instants);
            }
        }
        return instants;
    }
}
