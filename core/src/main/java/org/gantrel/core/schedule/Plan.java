package org.gantrel.core.schedule;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.BitSet;
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
 * @param from its first day by the local calendar, for the day on which an occurrence lands
 * @param until its last day, likewise
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
        Instant begin = after.minus(place);
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
        LocalDate date = timetable.dayOf(skipped.minus(place), zone);
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
                                .minusSeconds(1))
                        .map(eve -> eve.isBefore(skipped) ? skipped : eve);
    }

    private Optional<Occurrence> marked(Instant after) {
        Instant begin = from.map(day -> start(day.toEpochDay()).minusSeconds(1))
                .filter(first -> first.isAfter(after))
                .orElse(after);
        Optional<Instant> next = timetable.next(begin, zone);
        // early hours of the first day may belong to the day before it
        while (next.isPresent() && isBeforeFrom(dayOf(next.get()))) {
            next = timetable.next(next.get(), zone);
        }
        return next.filter(at -> !isAfterUntil(dayOf(at))).map(at -> {
            Optional<String> refusal = keep.refusal(LocalDate.ofEpochDay(dayOf(at)))
                    .or(() -> keep.hoursRefusal(at.atZone(zone).toLocalDateTime()));
            return new Occurrence(at, Optional.empty(), refusal);
        });
    }

    private boolean isBeforeFrom(long day) {
        return from.isPresent() && day < from.get().toEpochDay();
    }

    private boolean isAfterUntil(long day) {
        return until.isPresent() && day > until.get().toEpochDay();
    }

    /**
     * Looks at one open day after the other: what falls on it, and what is moved on to it. The first and last day of the
     * schedule hold for the day on which an occurrence lands.
     */
    private Optional<Occurrence> moved(Instant after) {
        long begin = dateOf(after).toEpochDay() - 1;
        long day =
                keep.next(from.map(first -> Math.max(begin, first.toEpochDay())).orElse(begin));
        for (int i = 0; i < MOST_DAYS && day != DaySet.NEVER && !isAfterUntil(day); i++) {
            var next = arriving(day).higherEntry(after);
            if (next != null) {
                return Optional.of(next.getValue());
            }
            Optional<Instant> later = timetable.next(start(day + 1).minusSeconds(1), zone);
            while (later.isPresent() && dayOf(later.get()) <= day) {
                later = timetable.next(later.get(), zone);
            }
            long following = keep.next(day + 1);
            if (later.isEmpty() || following == DaySet.NEVER) {
                return Optional.empty();
            }
            long before = keep.previous(dayOf(later.get()), Shift.FARTHEST);
            day = before == DaySet.NEVER ? following : Math.max(following, before);
        }
        return Optional.empty();
    }

    /**
     * The occurrences of an open day and of the closed days around it that are moved on to it. What is moved keeps the
     * local time of its rule, and starts once with what starts then anyway.
     */
    private TreeMap<Instant, Occurrence> arriving(long day) {
        var found = new TreeMap<Instant, Occurrence>();
        Optional<Instant> own = timetable.next(start(day).minusSeconds(1), zone);
        while (own.isPresent() && dayOf(own.get()) <= day) {
            if (dayOf(own.get()) == day) {
                put(found, own.get(), Optional.empty());
            }
            own = timetable.next(own.get(), zone);
        }
        long earlier = keep.previous(day - 1, Shift.FARTHEST);
        long later = keep.next(day + 1);
        long first = earlier == DaySet.NEVER ? day - Shift.FARTHEST : earlier + 1;
        long last = later == DaySet.NEVER ? day + Shift.FARTHEST : later - 1;
        var seen = new BitSet();
        for (long closed = first; closed <= last; closed++) {
            if (closed != day && shift.target(closed, keep) == day) {
                for (int second : timetable.secondsOn(closed, zone)) {
                    if (!seen.get(second)) {
                        seen.set(second);
                        Instant there = LocalDate.ofEpochDay(day)
                                .atStartOfDay()
                                .plusSeconds(second)
                                .atZone(zone)
                                .toInstant();
                        put(found, there, Optional.of(LocalDate.ofEpochDay(closed)));
                    }
                }
            }
        }
        return found;
    }

    /** What falls on the day itself goes before what is moved on to the same instant. */
    private void put(TreeMap<Instant, Occurrence> found, Instant at, Optional<LocalDate> movedFrom) {
        found.computeIfAbsent(
                at,
                instant -> new Occurrence(
                        at, movedFrom, keep.hoursRefusal(at.atZone(zone).toLocalDateTime())));
    }

    private long dayOf(Instant at) {
        return timetable.dayOf(at, zone).toEpochDay();
    }

    private Instant start(long day) {
        return LocalDate.ofEpochDay(day).atStartOfDay(zone).toInstant();
    }

    private LocalDate dateOf(Instant at) {
        return at.atZone(zone).toLocalDate();
    }
}
