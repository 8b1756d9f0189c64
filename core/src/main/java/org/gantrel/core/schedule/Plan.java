package org.gantrel.core.schedule;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.TreeMap;
import org.gantrel.core.when.DaySet;
import org.gantrel.core.when.Timetable;

/**
 * All that a schedule says of when: its rule, the calendars it keeps to and off, what becomes of occurrences on wrong days,
 * its place within its window, and how long it holds.
 *
 * @param place how far into its window the schedule starts, always the same for one schedule
 * @param from its first day by the local calendar
 * @param until its last day
 */
public record Plan(
        Timetable timetable,
        ZoneId zone,
        DayFilter keep,
        Shift shift,
        Duration place,
        Optional<LocalDate> from,
        Optional<LocalDate> until) {

    /** No more days are gone through for one answer; a plan that has nothing by then has nothing. */
    private static final int MOST_DAYS = 4_000;

    /**
     * One instant that a schedule stands for.
     *
     * @param movedFrom the day that it was moved from, where it was
     * @param skipped why it does not start, where it does not
     */
    public record Occurrence(Instant at, Optional<LocalDate> movedFrom, Optional<String> skipped) {

        static Occurrence plain(Instant at) {
            return new Occurrence(at, Optional.empty(), Optional.empty());
        }

        public boolean starts() {
            return skipped.isEmpty();
        }
    }

    /** A plan of a rule alone. */
    public static Plan of(Timetable timetable, ZoneId zone) {
        return new Plan(
                timetable, zone, DayFilter.ANY_DAY, Shift.SKIP, Duration.ZERO, Optional.empty(), Optional.empty());
    }

    /**
     * The first place in a window for a schedule of a name: spread evenly over names, and always the same for one. The
     * bits are mixed as FNV-1a does.
     */
    public static Duration placeIn(Duration window, String name) {
        if (window.isZero()) {
            return Duration.ZERO;
        }
        long hash = 0xcbf29ce484222325L;
        for (int i = 0; i < name.length(); i++) {
            hash = (hash ^ name.charAt(i)) * 0x100000001b3L;
        }
        return Duration.ofSeconds(Math.floorMod(hash ^ hash >>> 32, window.toSeconds()));
    }

    /** The first occurrence after an instant, be it one that does not start; nothing where none comes any more. */
    public Optional<Occurrence> next(Instant after) {
        if (keep.isAnyDay() && from.isEmpty() && until.isEmpty() && place.isZero()) {
            return timetable.next(after, zone).map(Occurrence::plain);
        }
        Instant begin = from.map(day -> day.atStartOfDay(zone).toInstant().minusSeconds(1))
                .filter(first -> first.isAfter(after.minus(place)))
                .orElse(after.minus(place));
        Optional<Occurrence> found = shift == Shift.SKIP || keep.isAnyDay() ? marked(begin) : moved(begin);
        return found.map(one -> new Occurrence(one.at().plus(place), one.movedFrom(), one.skipped()));
    }

    /** The first start after an instant. */
    public Optional<Instant> nextStart(Instant after) {
        Instant at = after;
        for (int i = 0; i < MOST_DAYS; i++) {
            Optional<Occurrence> next = next(at);
            if (next.isEmpty() || next.get().starts()) {
                return next.map(Occurrence::at);
            }
            Optional<Instant> open = pastClosedDays(next.get().at());
            if (open.isEmpty()) {
                return Optional.empty();
            }
            at = open.get();
        }
        return Optional.empty();
    }

    /** Up to so many starts after an instant. */
    public List<Occurrence> nextStarts(Instant after, int count) {
        var found = new ArrayList<Occurrence>();
        Instant at = after;
        for (int i = 0; i < MOST_DAYS && found.size() < count; i++) {
            Optional<Occurrence> next = next(at);
            if (next.isEmpty()) {
                break;
            }
            at = next.get().at();
            if (next.get().starts()) {
                found.add(next.get());
            } else {
                Optional<Instant> open = pastClosedDays(at);
                if (open.isEmpty()) {
                    return found;
                }
                at = open.get();
            }
        }
        return found;
    }

    /**
     * The last moment before the next day on which something may start, or the instant itself on an open day; nothing where
     * no day is open any more.
     */
    private Optional<Instant> pastClosedDays(Instant skipped) {
        LocalDate date = dateOf(skipped.minus(place));
        if (keep.holds(date)) {
            return Optional.of(skipped);
        }
        long open = keep.next(date.toEpochDay());
        return open == DaySet.NEVER
                ? Optional.empty()
                : Optional.of(LocalDate.ofEpochDay(open)
                        .atStartOfDay(zone)
                        .toInstant()
                        .plus(place)
                        .minusSeconds(1));
    }

    private Optional<Occurrence> marked(Instant after) {
        return timetable.next(after, zone).filter(this::isHeld).map(at -> {
            Optional<String> refusal = keep.refusal(dateOf(at))
                    .or(() -> keep.hoursRefusal(at.atZone(zone).toLocalDateTime()));
            return new Occurrence(at, Optional.empty(), refusal);
        });
    }

    private boolean isHeld(Instant at) {
        LocalDate date = dateOf(at);
        return (until.isEmpty() || !date.isAfter(until.get())) && (from.isEmpty() || !date.isBefore(from.get()));
    }

    /** Looks at one open day after the other: what falls on it, and what is moved on to it. */
    private Optional<Occurrence> moved(Instant after) {
        long day = keep.next(dateOf(after).toEpochDay() - 1);
        for (int i = 0; i < MOST_DAYS && day != DaySet.NEVER; i++) {
            var onDay = arriving(day);
            var next = onDay.higherEntry(after);
            if (next != null) {
                return Optional.of(next.getValue());
            }
            Optional<Instant> later =
                    timetable.next(start(day + 1).minusSeconds(1), zone).filter(this::isHeld);
            long following = keep.next(day + 1);
            if (later.isEmpty() || following == DaySet.NEVER) {
                return Optional.empty();
            }
            long before = keep.previous(dateOf(later.get()).toEpochDay(), Shift.FARTHEST);
            day = before == DaySet.NEVER ? following : Math.max(following, before);
        }
        return Optional.empty();
    }

    /** The occurrences of an open day and of the closed days around it that are moved on to it. */
    private TreeMap<Instant, Occurrence> arriving(long day) {
        long earlier = keep.previous(day - 1, Shift.FARTHEST);
        long later = keep.next(day + 1);
        long first = earlier == DaySet.NEVER ? day - Shift.FARTHEST : earlier + 1;
        long last = later == DaySet.NEVER ? day + Shift.FARTHEST : later - 1;
        var found = new TreeMap<Instant, Occurrence>();
        Instant end = start(last + 1);
        Optional<Instant> next = timetable.next(start(first).minusSeconds(1), zone);
        while (next.isPresent() && next.get().isBefore(end)) {
            Instant at = next.get();
            LocalDate date = dateOf(at);
            if (isHeld(at) && shift.target(date.toEpochDay(), keep) == day) {
                boolean here = date.toEpochDay() == day;
                Instant there = here
                        ? at
                        : LocalDate.ofEpochDay(day)
                                .atTime(at.atZone(zone).toLocalTime())
                                .atZone(zone)
                                .toInstant();
                Optional<String> refusal = keep.hoursRefusal(there.atZone(zone).toLocalDateTime());
                // what falls on the day itself goes before what is moved on to the same instant
                found.merge(
                        there,
                        new Occurrence(there, here ? Optional.empty() : Optional.of(date), refusal),
                        (known, other) -> known.movedFrom().isEmpty() ? known : other);
            }
            next = timetable.next(at, zone);
        }
        return found;
    }

    private Instant start(long day) {
        return LocalDate.ofEpochDay(day).atStartOfDay(zone).toInstant();
    }

    private LocalDate dateOf(Instant at) {
        return at.atZone(zone).toLocalDate();
    }
}
