package org.gantrel.core.when;

import java.lang.ref.SoftReference;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.TreeSet;
import java.util.stream.IntStream;
import java.util.stream.LongStream;
import org.gantrel.core.when.RuleParts.Stamp;

/**
 * A recurrence of iCalendar (RFC 5545, 3.8.5): a rule from a start on, with further times and exceptions. The start itself
 * counts where it fits the rule; where it does not, RFC 5545 leaves open what is meant, and it is left out.
 */
final class Recurrence implements Timetable {

    private static final long[] NOTHING = {};
    private static final int DAYS_KEPT = 3;
    private static final int WORTH_KEEPING = 50;

    private final String text;
    private final Optional<Stamp> start;
    private final Optional<ZoneId> zone;
    private final RuleParts parts;
    private final List<Stamp> more;
    private final List<Stamp> except;
    private final RuleStamps stamps;
    /** How far COUNT is counted; it takes going through the rule, so it goes on from there, in the zone asked for last. */
    private volatile Counted counted;

    /** The instants of the days that were asked for last; a short cut only, so that a lost one costs nothing but time. */
    private volatile SoftReference<List<Day>> days = new SoftReference<>(List.of());

    private record Day(long day, ZoneClock clock, long[] instants) {}

    /**
     * The starts of the rule up to a day.
     *
     * @param last the one after which none counts any more; {@link DaySet#NEVER} where that is not reached yet
     */
    private record Counted(ZoneClock clock, long day, int seen, long last) {}

    Recurrence(
            String text,
            Optional<Stamp> start,
            Optional<ZoneId> zone,
            RuleParts parts,
            List<Stamp> more,
            List<Stamp> except) {
        this.text = text;
        this.start = start;
        this.zone = zone;
        this.parts = parts;
        this.more = List.copyOf(more);
        this.except = List.copyOf(except);
        Stamp begin = start.orElse(new Stamp(0, 0, false, false));
        this.stamps = new RuleStamps(parts, begin.day(), begin.second());
    }

    @Override
    public Kind kind() {
        return Kind.RRULE;
    }

    @Override
    public Optional<ZoneId> ownZone() {
        return zone;
    }

    @Override
    public boolean needsStart() {
        return start.isEmpty();
    }

    @Override
    public Timetable startingAt(Instant instant, ZoneId in) {
        if (start.isPresent()) {
            return this;
        }
        var local = instant.atZone(in).toLocalDateTime();
        var begin =
                new Stamp(local.toLocalDate().toEpochDay(), local.toLocalTime().toSecondOfDay(), false, false);
        return new Recurrence(text, Optional.of(begin), zone, parts, more, except);
    }

    Optional<Stamp> start() {
        return start;
    }

    RuleParts parts() {
        return parts;
    }

    boolean hasExtras() {
        return !more.isEmpty() || !except.isEmpty();
    }

    int extraTimes() {
        return more.size();
    }

    int exceptions() {
        return except.size();
    }

    @Override
    public String phrase() {
        return RulePhrase.of(this).map(Phrase::phrase).orElseGet(() -> RuleWords.words(this));
    }

    @Override
    public List<String> cautions() {
        return RulePhrase.of(this).map(Phrase::cautions).orElse(List.of());
    }

    @Override
    public Optional<Instant> next(Instant after, ZoneId asked) {
        ZoneClock clock = ZoneClock.of(zone.orElse(asked));
        long at = after.getEpochSecond();
        while (true) {
            long ofRule = ofRule(at, clock);
            long found = Math.min(ofRule <= lastOf(ofRule, clock) ? ofRule : DaySet.NEVER, ofMore(at, clock));
            if (found == DaySet.NEVER) {
                return Optional.empty();
            }
            if (!isExcepted(found, clock)) {
                return Optional.of(Instant.ofEpochSecond(found));
            }
            at = found;
        }
    }

    @Override
    public int[] secondsOn(long day, ZoneId asked) {
        ZoneClock clock = ZoneClock.of(zone.orElse(asked));
        IntStream ofRule = Arrays.stream(stamps.on(day)).filter(second -> {
            long at = clock.instant(day, second);
            return holds(day, second, clock) && at <= lastOf(at, clock);
        });
        IntStream further = more.stream()
                .mapToLong(stamp -> instant(stamp, clock))
                .filter(at -> clock.dayOf(at) == day)
                .mapToInt(at -> clock.secondOf(at));
        return IntStream.concat(ofRule, further)
                .filter(second -> !isExcepted(clock.instant(day, second), clock))
                .sorted()
                .distinct()
                .toArray();
    }

    private long ofMore(long after, ZoneClock clock) {
        return more.stream()
                .mapToLong(stamp -> instant(stamp, clock))
                .filter(at -> at > after)
                .min()
                .orElse(DaySet.NEVER);
    }

    private boolean isExcepted(long instant, ZoneClock clock) {
        return !except.isEmpty()
                && except.stream()
                        .anyMatch(stamp -> stamp.wholeDay()
                                ? clock.dayOf(instant) == stamp.day()
                                : instant(stamp, clock) == instant);
    }

    private static long instant(Stamp stamp, ZoneClock clock) {
        return stamp.utc() ? stamp.local() : clock.instant(stamp.day(), stamp.second());
    }

    private long ofRule(long after, ZoneClock clock) {
        long from = clock.dayOf(after) - 1;
        for (long day = stamps.nextDay(from); day != DaySet.NEVER; day = stamps.nextDay(day + 1)) {
            if (isOver(day)) {
                return DaySet.NEVER;
            }
            long found = on(day, after, clock);
            if (found != DaySet.NEVER) {
                return found;
            }
        }
        return DaySet.NEVER;
    }

    private long on(long day, long after, ZoneClock clock) {
        long[] instants = instantsOn(day, clock);
        int place = Arrays.binarySearch(instants, after);
        int next = place < 0 ? -place - 1 : place + 1;
        if (next == instants.length) {
            return DaySet.NEVER;
        }
        long found = instants[next];
        // a time that a gap moved on may pass one of the following day
        return found < clock.startOf(day + 1) || stamps.nextDay(day + 1) != day + 1
                ? found
                : Math.min(found, on(day + 1, after, clock));
    }

    /** All instants of a day in order. A rule may have thousands on a day, and is mostly asked for one after the other. */
    private long[] instantsOn(long day, ZoneClock clock) {
        List<Day> kept = days.get();
        List<Day> known = kept == null ? List.of() : kept;
        for (Day each : known) {
            if (each.day() == day && each.clock().equals(clock)) {
                return each.instants();
            }
        }
        var fresh = new Day(day, clock, clock.isSteady(day) ? plainly(day, clock) : throughAChange(day, clock));
        if (fresh.instants().length < WORTH_KEEPING) {
            return fresh.instants();
        }
        var latest = new ArrayList<>(known.subList(0, Math.min(known.size(), DAYS_KEPT - 1)));
        latest.add(0, fresh);
        days = new SoftReference<>(List.copyOf(latest));
        return fresh.instants();
    }

    private long[] plainly(long day, ZoneClock clock) {
        long midnight = clock.startOf(day);
        int[] seconds = stamps.on(day);
        var found = new long[seconds.length];
        int count = 0;
        for (int second : seconds) {
            if (holds(day, second, clock)) {
                found[count++] = midnight + second;
            }
        }
        return count == found.length ? found : Arrays.copyOf(found, count);
    }

    private long[] throughAChange(long day, ZoneClock clock) {
        var both = stamps.everyHour() ? ZoneClock.Both.COUNT : ZoneClock.Both.ARE_ONE;
        var instants = new TreeSet<Long>();
        for (int second : stamps.on(day)) {
            if (holds(day, second, clock)) {
                clock.instants(day, second, both, instants::add);
            }
        }
        return instants.stream().mapToLong(Long::longValue).toArray();
    }

    /** Whether a day is so late that UNTIL lets nothing happen on it or after it. */
    private boolean isOver(long day) {
        return parts.until().isPresent() && day > parts.until().get().day() + 1;
    }

    private boolean holds(long day, int second, ZoneClock clock) {
        if (parts.until().isEmpty()) {
            return true;
        }
        Stamp until = parts.until().get();
        if (until.wholeDay()) {
            return day <= until.day();
        }
        return until.utc() ? clock.instant(day, second) <= until.local() : day * Times.DAY + second <= until.local();
    }

    /** The last start that COUNT leaves, as far as it lies before or on the day of an instant; otherwise no end. */
    private long lastOf(long instant, ZoneClock clock) {
        if (parts.count().isEmpty() || instant == DaySet.NEVER) {
            return DaySet.NEVER;
        }
        Counted known = counted;
        if (known == null || !known.clock().equals(clock)) {
            known = new Counted(clock, Long.MIN_VALUE / 2, 0, DaySet.NEVER);
        }
        long until = clock.dayOf(instant) + 1;
        if (known.last() == DaySet.NEVER && known.day() < until) {
            known = count(known, until);
            counted = known;
        }
        return known.last();
    }

    /** Both passes of an hour that exists twice count where both start, and times that a gap merges count once. */
    private Counted count(Counted from, long until) {
        int count = parts.count().orElseThrow();
        int seen = from.seen();
        long day = Math.max(from.day() + 1, stamps.firstDay());
        long last = until;
        while (day <= until) {
            long steady = Math.min(last, from.clock().steadyUntil(day));
            long[] changing = steady < day ? aroundAChange(day, from.clock()) : NOTHING;
            int more = steady < day ? changing.length : stamps.count(day, steady);
            if (seen + more < count) {
                seen += more;
                day = steady < day ? day + 2 : steady + 1;
                last = day > last ? until : last;
            } else if (steady > day) {
                // the last one is on one of these days: look at half of them
                last = day + (steady - day) / 2;
            } else {
                long[] instants = steady < day ? changing : instantsOn(day, from.clock());
                return new Counted(from.clock(), day, count, instants[count - seen - 1]);
            }
        }
        return new Counted(from.clock(), Math.max(until, day - 1), seen, DaySet.NEVER);
    }

    /** The instants of a day and of the one after it, on to which a gap may move times. */
    private long[] aroundAChange(long day, ZoneClock clock) {
        return LongStream.concat(Arrays.stream(instantsOn(day, clock)), Arrays.stream(instantsOn(day + 1, clock)))
                .sorted()
                .distinct()
                .toArray();
    }

    /** The first day of the rule. */
    LocalDate firstDay() {
        return LocalDate.ofEpochDay(start.map(Stamp::day).orElse(0L));
    }

    @Override
    public String toString() {
        return text;
    }
}
