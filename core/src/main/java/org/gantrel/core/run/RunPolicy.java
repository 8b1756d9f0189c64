package org.gantrel.core.run;

import java.time.Duration;
import java.time.Instant;
import java.util.Optional;

/**
 * What a run's definition says of its life.
 *
 * @param parent whether it only leads other runs
 * @param timeLimit how long a try may take
 * @param total how long all tries may take together
 * @param stopAt when its window ends
 * @param patience how long work that was asked to stop has for it before it is ended
 * @param retry whether it is tried again
 */
public record RunPolicy(
        boolean parent,
        Optional<Duration> timeLimit,
        Optional<Duration> total,
        Optional<Instant> stopAt,
        Duration patience,
        Retry retry) {

    public static final Duration USUAL_PATIENCE = Duration.ofSeconds(10);

    /** That of a chain or a sweep without a limit. */
    public static final RunPolicy PARENT = leading(Optional.empty(), Optional.empty());

    /** That of a chain or a sweep. */
    public static RunPolicy leading(Optional<Duration> timeLimit, Optional<Instant> stopAt) {
        return new RunPolicy(true, timeLimit, Optional.empty(), stopAt, USUAL_PATIENCE, Retry.NEVER);
    }

    /** That of a task that says nothing but its time limit. */
    public static RunPolicy task(Optional<Duration> timeLimit) {
        return new RunPolicy(false, timeLimit, Optional.empty(), Optional.empty(), USUAL_PATIENCE, Retry.NEVER);
    }
}
