package org.gantrel.service.job;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.Instant;
import java.util.List;
import java.util.Map;

/** What the schedules of a job are up to. */
public interface ScheduleFacts {

    /**
     * A schedule with its coming times.
     *
     * @param when the rule as it was written
     * @param phrase the rule in plain English
     * @param next the next five times; none while it is switched off
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record ScheduleView(
            String job,
            String team,
            String name,
            String when,
            String phrase,
            String zone,
            boolean on,
            Map<String, String> with,
            List<Instant> next) {}

    List<ScheduleView> of(JobRecord job);
}
