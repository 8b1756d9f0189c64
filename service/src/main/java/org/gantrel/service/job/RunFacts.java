package org.gantrel.service.job;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.Duration;
import java.time.Instant;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.job.Job;
import org.gantrel.core.parameter.Parameters;

/** What the history says of a job. */
public interface RunFacts {

    /** The latest run of a job. */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record LastRun(long number, String state, Instant plannedAt, Instant finishedAt, String message) {}

    Optional<LastRun> last(long jobId);

    /** What the defaults of a job's parameters are for a start by hand now. */
    Map<String, Parameters.Default> defaults(Job job);

    /** How long a good run usually takes: the median of the latest. */
    Optional<Duration> usual(long jobId);

    /** The same of the job over a roster, all rows together. */
    Optional<Duration> usualOver(long jobId);

    /** How many good runs that was learnt from. */
    int known(long jobId);
}
