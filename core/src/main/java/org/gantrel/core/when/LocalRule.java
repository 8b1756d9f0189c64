package org.gantrel.core.when;

import java.time.Instant;
import java.time.ZoneId;
import java.util.Optional;
import java.util.TreeSet;

/** Times of the day on chosen days: what phrases and cron expressions come down to. */
record LocalRule(DaySet days, Times times) {

    private static final int[] NOTHING = {};

    /** The first instant strictly after the given one, or nothing where none comes any more. */
    Optional<Instant> next(Instant after, ZoneId zone) {
        long found = times.next(0) < 0 ? DaySet.NEVER : next(after.getEpochSecond(), ZoneClock.of(zone));
        return found == DaySet.NEVER ? Optional.empty() : Optional.of(Instant.ofEpochSecond(found));
    }

    /** The local times of a day; none where it is not chosen. */
    int[] secondsOn(long day) {
        return days.holds(day) ? times.all() : NOTHING;
    }

    /** Occurrences stand on whole seconds, so the first one after an instant comes after its whole seconds. */
    private long next(long after, ZoneClock clock) {
        ZoneClock.Span span = clock.at(after);
        long local = after + span.offset();
        long day = Math.floorDiv(local, (long) Times.DAY);
        if (!span.isFarAround(day)) {
            return search(day - 1, after, clock);
        }
        if (days.holds(day)) {
            int second = times.next((int) (local - day * Times.DAY) + 1);
            if (second >= 0) {
                return day * Times.DAY + second - span.offset();
            }
        }
        long following = days.next(day + 1);
        if (following == DaySet.NEVER) {
            return DaySet.NEVER;
        }
        return span.isFarAround(following)
                ? following * Times.DAY + times.next(0) - span.offset()
                : search(following, after, clock);
    }

    /** Looks day by day. A day that a zone skipped moves its times into the following day, so one begins a day early. */
    private long search(long from, long after, ZoneClock clock) {
        for (long day = days.next(from); day != DaySet.NEVER; day = days.next(day + 1)) {
            long found = on(day, after, clock);
            if (found != DaySet.NEVER) {
                return found;
            }
        }
        return DaySet.NEVER;
    }

    /** Only times that may stand for an instant after the given one are looked at, until none can be nearer. */
    private long on(long day, long after, ZoneClock clock) {
        var both = times.everyHour() ? ZoneClock.Both.COUNT : ZoneClock.Both.ARE_ONE;
        ZoneClock.Offsets offsets = clock.around(day);
        long midnight = day * Times.DAY;
        long early = Math.max(0, after + offsets.least() - midnight);
        var instants = new TreeSet<Long>();
        Long found = null;
        for (int second = early < Times.DAY ? times.next((int) early) : -1;
                second >= 0 && (found == null || midnight + second - offsets.most() < found);
                second = times.next(second + 1)) {
            clock.instants(day, second, both, instants::add);
            found = instants.higher(after);
        }
        if (found == null) {
            return DaySet.NEVER;
        }
        if (found < clock.startOf(day + 1) || !days.holds(day + 1)) {
            return found;
        }
        return Math.min(found, on(day + 1, after, clock));
    }
}
