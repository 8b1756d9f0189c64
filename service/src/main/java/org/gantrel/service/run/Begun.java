package org.gantrel.service.run;

import java.time.Instant;
import java.util.Optional;
import org.gantrel.core.run.CauseKind;
import org.gantrel.core.run.RunState;

/** What is known of a run that has begun, as far as it matters for when it was under way. */
record Begun(
        long number,
        int revision,
        Long parent,
        CauseKind cause,
        String step,
        String kind,
        int attempt,
        RunState state,
        Instant startedAt,
        Instant finishedAt) {

    /** Whether its tries stand by themselves, but for one that is under way. */
    boolean tried() {
        return attempt > 1 && kind.equals("task");
    }

    /** Whether what it says of its begin and end is a time in which it was under way. */
    boolean says() {
        return tried() ? state == RunState.RUNNING : state != RunState.WAITING;
    }

    /** A time in which it was under way. */
    Runs.Span span(Instant from, Optional<Instant> until) {
        Optional<Runs.Part> part =
                Optional.ofNullable(parent).map(above -> new Runs.Part(above, cause == CauseKind.SWEEP ? "" : step));
        return new Runs.Span(number, revision, part, from, until);
    }
}
