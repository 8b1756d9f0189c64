package org.gantrel.core.run;

import java.time.Duration;
import java.util.Optional;

/**
 * What a run's definition says of its life.
 *
 * @param parent whether it only leads other runs
 * @param timeLimit how long it may take
 * @param patience how long work that was asked to stop has for it before it is ended
 */
public record RunPolicy(boolean parent, Optional<Duration> timeLimit, Duration patience) {

    public static final Duration USUAL_PATIENCE = Duration.ofSeconds(10);

    /** That of a chain or a sweep. */
    public static final RunPolicy PARENT = new RunPolicy(true, Optional.empty(), USUAL_PATIENCE);

    /** That of a task. */
    public static RunPolicy task(Optional<Duration> timeLimit) {
        return new RunPolicy(false, timeLimit, USUAL_PATIENCE);
    }
}
