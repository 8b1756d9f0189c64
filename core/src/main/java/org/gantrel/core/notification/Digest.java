package org.gantrel.core.notification;

import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.List;
import java.util.Optional;
import java.util.function.Predicate;
import org.gantrel.core.job.JobScope;
import org.gantrel.core.when.Timetable;
import org.gantrel.core.when.When;

/**
 * A summary that comes at its times: what ran, what did not, what goes on.
 *
 * @param scope the jobs that it tells of
 * @param chain a chain whose runs alone it tells of, with their steps; empty for all jobs of the scope
 * @param when its times, as schedules say them; empty for each time that a run of the chain has ended
 * @param calendar the days on which it comes; empty for all
 * @param evenIfNothing whether it comes though there is nothing wrong to tell of
 */
public record Digest(
        String name,
        String team,
        String about,
        JobScope scope,
        String chain,
        String when,
        ZoneId zone,
        String calendar,
        List<Receiver> to,
        boolean evenIfNothing)
        implements Telling {

    /** A digest that was not looked at for long is written once, for the latest of its times. */
    private static final int MOST_STEPS = 2_000;

    public Digest {
        to = List.copyOf(to);
    }

    /** The next time after a moment; nothing where there is none. @param days those on which it comes */
    public Optional<Instant> next(Instant after, Predicate<LocalDate> days) {
        if (when.isEmpty()) {
            return Optional.empty();
        }
        Timetable timetable = When.parse(when);
        Optional<Instant> next = Optional.of(after);
        for (int i = 0; i < MOST_STEPS && next.isPresent(); i++) {
            next = timetable.next(next.get(), zone);
            if (next.filter(at -> days.test(at.atZone(zone).toLocalDate())).isPresent()) {
                return next;
            }
        }
        return Optional.empty();
    }
}
