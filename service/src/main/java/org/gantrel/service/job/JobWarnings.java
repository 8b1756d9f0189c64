package org.gantrel.service.job;

import java.util.List;
import java.util.stream.Stream;
import org.gantrel.core.job.Job;
import org.springframework.stereotype.Component;

/** What will probably go wrong with jobs, in words, from all who know something of it. */
@Component
public class JobWarnings {

    private final List<JobAdvice> advice;
    private final Lookahead lookahead;

    JobWarnings(List<JobAdvice> advice, Lookahead lookahead) {
        this.advice = advice;
        this.lookahead = lookahead;
    }

    /** What asking other systems tells of jobs that are about to be saved, in their order. Takes a bounded time. */
    public List<List<String>> ahead(List<Job> jobs) {
        return lookahead.warnings(jobs);
    }

    /** All that is known of a job; what was found by looking ahead is not said twice. */
    public List<String> of(Job job, List<String> ahead) {
        return Stream.concat(advice.stream().flatMap(each -> each.warnings(job).stream()), ahead.stream())
                .distinct()
                .toList();
    }
}
