package org.gantrel.service.job;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;

/** What the schedules of a job are up to. */
public interface ScheduleFacts {

    /**
     * A schedule with its coming times.
     *
     * @param when the rule as it was written
     * @param phrase the rule in plain English
     * @param offTogether whether it was switched off together with others, to be switched on with them again
     * @param next the next five times; none while it is switched off
     * @param calendar the calendar whose days it keeps to; missing where it has none
     * @param except the calendar whose days it keeps off
     * @param missed which occurrences start after all that nobody was there to start: record, latest or each
     * @param last what became of its latest occurrence
     * @param cautions what a person should know of it
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
            boolean offTogether,
            Map<String, String> with,
            List<Instant> next,
            String calendar,
            String except,
            String shift,
            Duration window,
            LocalDate from,
            LocalDate until,
            String missed,
            LastOccurrence last,
            List<String> cautions) {}

    /**
     * What became of an occurrence.
     *
     * @param state the state of its run, or {@code skipped} where it has none
     * @param run the number of its run; missing where the schedule was off
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record LastOccurrence(Instant at, String state, String reason, Long run) {}

    List<ScheduleView> of(JobEntry job);
}
