package org.gantrel.service.job;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.Duration;
import java.time.Instant;
import java.util.Optional;

/** What the history says of a job. */
public interface RunFacts {

    /** The latest run of a job. */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record LastRun(long number, String state, Instant plannedAt, Instant finishedAt, String message) {}

    Optional<LastRun> last(long jobId);

    /** How long a good run usually takes: the median of the latest. */
    Optional<Duration> usual(long jobId);

    /** The same of the job over a roster, all rows together. */
    Optional<Duration> usualOver(long jobId);

    /** How many good runs that was learnt from. */
    int known(long jobId);
}
