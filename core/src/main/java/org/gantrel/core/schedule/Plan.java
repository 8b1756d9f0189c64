package org.gantrel.core.schedule;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.BitSet;
import java.util.List;
import java.util.Optional;
import java.util.TreeMap;
import java.util.function.BiConsumer;
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

    /** What asking the rule for an instant costs beside looking at a time that it has already told. */
    static final int DEAR = 50;

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

    /** The last occurrence before an instant, be it one that does not start; nothing where none is after another instant. */
    public Optional<Occurrence> last(Instant before, Instant after) {
        Optional<Occurrence> best = next(after).filter(one -> one.at().isBefore(before));
        if (best.isEmpty()) {
            return best;
        }
        // what comes first after a moment never comes earlier for a later moment, so the last one can be closed in on
        Instant low = best.get().at();
        Instant high = before;
        while (Duration.between(low, high).compareTo(Duration.ofSeconds(1)) > 0) {
            Instant middle = low.plus(Duration.between(low, high).dividedBy(2));
            Optional<Occurrence> one = next(middle).filter(there -> there.at().isBefore(before));
            if (one.isPresent()) {
                best = one;
                low = one.get().at();
            } else {
                high = middle;
            }
        }
        return best;
    }

    /** The starts after an instant, one after the other. */
    public Starts starts(Instant after) {
        return new Starts(this, after.minus(place));
    }

    /** The first start after an instant. */
    public Optional<Instant> nextStart(Instant after) {
        return starts(after).next().map(Occurrence::at);
    }

    /** Up to so many starts after an instant. */
    public List<Occurrence> nextStarts(Instant after, int count) {
        return starts(after).next(count);
    }

    boolean moves() {
        return shift != Shift.SKIP && !keep.isAnyDay();
    }

    /** The next occurrence of a plan that moves none, before its place is added. */
    Optional<Occurrence> unmoved(Instant after) {
        return keep.isAnyDay() && from.isEmpty() && until.isEmpty()
                ? timetable.next(after, zone).map(Occurrence::plain)
                : marked(after);
    }

    /**
     * The last moment before the next one at which the calendars let something start, or the instant itself where that is
     * not worth a leap; nothing where no day is open any more.
     */
    Optional<Instant> eveOfOpening(Instant skipped) {
        LocalDate date = timetable.dayOf(skipped, zone);
        if (keep.holds(date)) {
            return Optional.of(keep.opening(skipped.atZone(zone).toLocalDateTime())
                    .map(opening -> opening.atZone(zone).toInstant().minusSeconds(1))
                    .filter(eve -> eve.isAfter(skipped) && isSteady(skipped, eve))
                    .orElse(skipped));
        }
        long open = keep.next(date.toEpochDay());
        if (open == DaySet.NEVER) {
            return Optional.empty();
        }
        Instant eve = start(open).minusSeconds(1);
        return Optional.of(eve.isBefore(skipped) ? skipped : eve);
    }

    private boolean isSteady(Instant from, Instant to) {
        var change = zone.getRules().nextTransition(from);
        return change == null || change.getInstant().isAfter(to.plusSeconds(1));
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
        long day = firstOpenDay(after);
        for (int i = 0; i < MOST_DAYS && day != DaySet.NEVER; i++) {
            var found = new TreeMap<Instant, Occurrence>();
            arrivals(day, (at, movedFrom) -> put(found, at, movedFrom));
            var next = found.higherEntry(after);
            if (next != null) {
                return Optional.of(next.getValue());
            }
            day = openDayAfter(day);
        }
        return Optional.empty();
    }

    /** The first day on which something after an instant may land; {@link DaySet#NEVER} where there is none. */
    long firstOpenDay(Instant after) {
        long begin = dateOf(after).toEpochDay() - 1;
        return notAfterUntil(
                keep.next(from.map(first -> Math.max(begin, first.toEpochDay())).orElse(begin)));
    }

    /** The next day after an open one on which something may land; {@link DaySet#NEVER} where there is none. */
    long openDayAfter(long day) {
        Optional<Instant> later = timetable.next(start(day + 1).minusSeconds(1), zone);
        while (later.isPresent() && dayOf(later.get()) <= day) {
            later = timetable.next(later.get(), zone);
        }
        long following = keep.next(day + 1);
        if (later.isEmpty() || following == DaySet.NEVER) {
            return DaySet.NEVER;
        }
        long before = keep.previous(dayOf(later.get()), Shift.FARTHEST);
        return notAfterUntil(before == DaySet.NEVER ? following : Math.max(following, before));
    }

    private long notAfterUntil(long day) {
        return day == DaySet.NEVER || isAfterUntil(day) ? DaySet.NEVER : day;
    }

    /**
     * Tells of the occurrences of an open day and of those of the closed days around it that are moved on to it. What is
     * moved keeps the local time of its rule, and starts once with what starts then anyway.
     *
     * @param found takes the instant and the day that it was moved from, those of the day itself first
     * @return how many days and times were looked at
     */
    int arrivals(long day, BiConsumer<Instant, Optional<LocalDate>> found) {
        int looked = 0;
        Optional<Instant> own = timetable.next(start(day).minusSeconds(1), zone);
        while (own.isPresent() && dayOf(own.get()) <= day) {
            if (dayOf(own.get()) == day) {
                found.accept(own.get(), Optional.empty());
            }
            own = timetable.next(own.get(), zone);
            looked += DEAR;
        }
        long earlier = keep.previous(day - 1, Shift.FARTHEST);
        long later = keep.next(day + 1);
        long first = earlier == DaySet.NEVER ? day - Shift.FARTHEST : Math.max(earlier + 1, day - Shift.FARTHEST);
        long last = later == DaySet.NEVER ? day + Shift.FARTHEST : Math.min(later - 1, day + Shift.FARTHEST);
        var seen = new BitSet();
        for (long closed = first; closed <= last; closed++) {
            looked++;
            if (closed == day) {
                continue;
            }
            int[] seconds = timetable.secondsOn(closed, zone);
            if (seconds.length == 0 || shift.target(closed, keep) != day) {
                continue;
            }
            looked += seconds.length;
            for (int second : seconds) {
                if (!seen.get(second)) {
                    seen.set(second);
                    Instant there = LocalDate.ofEpochDay(day)
                            .atStartOfDay()
                            .plusSeconds(second)
                            .atZone(zone)
                            .toInstant();
                    found.accept(there, Optional.of(LocalDate.ofEpochDay(closed)));
                }
            }
        }
        return looked;
    }

    /** What falls on the day itself goes before what is moved on to the same instant. */
    private void put(TreeMap<Instant, Occurrence> found, Instant at, Optional<LocalDate> movedFrom) {
        found.computeIfAbsent(
                at,
                instant -> new Occurrence(
                        at, movedFrom, keep.hoursRefusal(at.atZone(zone).toLocalDateTime())));
    }

    /** Whether the hours let a start be. */
    boolean isOpenAt(Instant at) {
        return keep.isOpenAt(at.atZone(zone).toLocalDateTime());
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
