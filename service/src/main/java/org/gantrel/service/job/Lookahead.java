package org.gantrel.service.job;

import java.util.List;
import org.gantrel.core.job.Job;

/**
 * Rehearses definitions that are about to be saved and says what would go wrong when they run. Unlike {@link JobAdvice}
 * it asks other systems, so it is for the moment of saving only, and it comes back in bounded time.
 */
public interface Lookahead {

    /** What would go wrong with each of some jobs, in their order. */
    List<List<String>> warnings(List<Job> jobs);
}
