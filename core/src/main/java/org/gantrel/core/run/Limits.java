package org.gantrel.core.run;

import java.time.Duration;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZonedDateTime;
import java.util.Optional;
import org.gantrel.core.expression.PlannedTime;

/**
 * How long runs of a job may go on.
 *
 * @param total how long all tries of a run may take together, the waits between them counted
 * @param stopAt the local time at which the window ends that a run was planned in
 * @param patience how long work that was asked to stop has for it before it is ended
 * @param longAfter from when on a run is said to be unusually long; learnt from earlier ones where it is not said
 */
public record Limits(
        Optional<Duration> total,
        Optional<LocalTime> stopAt,
        Optional<Duration> patience,
        Optional<Duration> longAfter) {

    private static final int LEARNT_FROM = 3;
    private static final int USUAL_TIMES = 3;
    private static final Duration AT_LEAST_MORE = Duration.ofMinutes(5);

    public static final Limits NONE =
            new Limits(Optional.empty(), Optional.empty(), Optional.empty(), Optional.empty());

    /**
     * From when on a run is said to be unusually long: what the job says, or what is learnt from its good runs, which is three
     * times the usual and at least five minutes more.
     *
     * @param usual how long a good run takes
     * @param known how many good runs that is learnt from; of fewer than three nothing is
     */
    public Optional<Duration> longFrom(Optional<Duration> usual, int known) {
        if (longAfter.isPresent() || known < LEARNT_FROM) {
            return longAfter;
        }
        return usual.map(length -> {
            Duration times = length.multipliedBy(USUAL_TIMES);
            Duration more = length.plus(AT_LEAST_MORE);
            return times.compareTo(more) > 0 ? times : more;
        });
    }

    /** The end of the window in which a run was planned: the first such local time after it. */
    public Optional<ZonedDateTime> windowEnd(PlannedTime planned) {
        return stopAt.map(time -> first(planned, time));
    }

    /** The first moment after a planned time at which the local clock shows a time. */
    public static ZonedDateTime first(PlannedTime planned, LocalTime time) {
        LocalDate date = planned.at().atZone(planned.zone()).toLocalDate();
        ZonedDateTime same = date.atTime(time).atZone(planned.zone());
        return same.toInstant().isAfter(planned.at())
                ? same
                : date.plusDays(1).atTime(time).atZone(planned.zone());
    }
}
