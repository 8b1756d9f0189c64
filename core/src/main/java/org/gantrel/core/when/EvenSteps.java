package org.gantrel.core.when;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.Optional;
import org.gantrel.core.text.Words;

/**
 * Every so many minutes, counted from the start of each local day. Elapsed time counts, not the clock on the wall, so
 * the steps go on evenly through an hour that summer time skips or repeats.
 */
record EvenSteps(int every, String unit, Duration step) implements Timetable {

    @Override
    public Kind kind() {
        return Kind.PHRASE;
    }

    @Override
    public String phrase() {
        return every == 1 ? "every " + unit : "every " + Words.count(every, unit);
    }

    @Override
    public Optional<Instant> next(Instant after, ZoneId zone) {
        LocalDate day = after.atZone(zone).toLocalDate();
        Instant start = day.atStartOfDay(zone).toInstant();
        long steps = Duration.between(start, after).toMillis() / step.toMillis() + 1;
        Instant next = start.plus(step.multipliedBy(steps));
        Instant tomorrow = day.plusDays(1).atStartOfDay(zone).toInstant();
        return Optional.of(next.isBefore(tomorrow) ? next : tomorrow);
    }
}
