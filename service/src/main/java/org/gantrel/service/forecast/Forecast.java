package org.gantrel.service.forecast;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import org.gantrel.core.run.Crowds.Crowd;

/**
 * What will run when, as far as schedules tell, and when it will probably end.
 *
 * @param cut whether there is more than could be shown
 * @param crowded when more runs are expected at once than the service has places for
 */
public record Forecast(Instant from, Instant until, boolean cut, List<ComingStart> starts, List<Crowd> crowded) {

    /** @param ends when it will probably have ended; missing where the job has not run yet */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record ComingStart(
            Instant at, Instant ends, Duration usual, String job, String team, String schedule, String zone) {}
}
