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
import org.gantrel.core.when.RuleParts.Stamp;

/**
 * A recurrence of iCalendar (RFC 5545, 3.8.5): a rule from a start on, with further times and exceptions. The start itself
 * counts where it fits the rule; where it does not, RFC 5545 leaves open what is meant, and it is left out.
 */
final class Recurrence implements Timetable {

    private static final int DAYS_KEPT = 3;
    private static final int WORTH_KEEPING = 50;

    private final String text;
    private final Optional<Stamp> start;
    private final Optional<ZoneId> zone;
    private final RuleParts parts;
    private final List<Stamp> more;
    private final List<Stamp> except;
    private final RuleStamps stamps;
    /** The last local time that COUNT leaves; it takes going through the rule, so it is found once. */
    private volatile Long last;

    /** The instants of the days that were asked for last; a short cut only, so that a lost one costs nothing but time. */
    private volatile SoftReference<List<Day>> days = new SoftReference<>(List.of());

    private record Day(long day, ZoneClock clock, long[] instants) {}

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
            long found = Math.min(ofRule(at, clock), ofMore(at, clock));
            if (found == DaySet.NEVER) {
                return Optional.empty();
            }
            if (!isExcepted(found, clock)) {
                return Optional.of(Instant.ofEpochSecond(found));
            }
            at = found;
        }
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
        var both = stamps.everyHour() ? ZoneClock.Both.COUNT : ZoneClock.Both.ARE_ONE;
        var instants = new TreeSet<Long>();
        for (int second : stamps.on(day)) {
            if (holds(day, second, clock)) {
                clock.instants(day, second, both, instants::add);
            }
        }
        var fresh =
                new Day(day, clock, instants.stream().mapToLong(Long::longValue).toArray());
        if (fresh.instants().length < WORTH_KEEPING) {
            return fresh.instants();
        }
        var latest = new ArrayList<>(known.subList(0, Math.min(known.size(), DAYS_KEPT - 1)));
        latest.add(0, fresh);
        days = new SoftReference<>(List.copyOf(latest));
        return fresh.instants();
    }

    /** Whether a day is so late that neither COUNT nor UNTIL lets anything happen on it or after it. */
    private boolean isOver(long day) {
        return day * Times.DAY > lastLocal()
                || parts.until().isPresent() && day > parts.until().get().day() + 1;
    }

    private boolean holds(long day, int second, ZoneClock clock) {
        if (day * Times.DAY + second > lastLocal()) {
            return false;
        }
        if (parts.until().isEmpty()) {
            return true;
        }
        Stamp until = parts.until().get();
        if (until.wholeDay()) {
            return day <= until.day();
        }
        return until.utc() ? clock.instant(day, second) <= until.local() : day * Times.DAY + second <= until.local();
    }

    private long lastLocal() {
        if (parts.count().isEmpty()) {
            return Long.MAX_VALUE;
        }
        Long known = last;
        if (known == null) {
            known = countedOut(parts.count().get());
            last = known;
        }
        return known;
    }

    private long countedOut(int count) {
        int seen = 0;
        long latest = Long.MIN_VALUE;
        for (long day = stamps.nextDay(Long.MIN_VALUE / 2); day != DaySet.NEVER; day = stamps.nextDay(day + 1)) {
            for (int second : stamps.on(day)) {
                latest = day * Times.DAY + second;
                if (++seen == count) {
                    return latest;
                }
            }
        }
        return latest;
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
