package org.gantrel.core.job;

import java.time.Duration;
import java.util.Optional;

/**
 * How long what a job leaves is kept, counted from the end of a run; nothing where nothing is said.
 *
 * @param runs the runs themselves with all that belongs to them
 * @param logs their logs
 */
public record Retention(Optional<Duration> runs, Optional<Duration> logs) {

    public static final Retention UNSAID = new Retention(Optional.empty(), Optional.empty());

    /** The same, and where it says nothing what another says. */
    public Retention or(Retention other) {
        return new Retention(runs.or(other::runs), logs.or(other::logs));
    }
}
