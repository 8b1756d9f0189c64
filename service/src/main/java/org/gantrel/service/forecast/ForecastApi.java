package org.gantrel.service.forecast;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.Teams;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** The forecast of all schedules. */
@RestController
@RequestMapping("/api/v1/forecast")
class ForecastApi {

    private static final Duration LONGEST = Duration.ofDays(400);

    private final Forecasts forecasts;
    private final Teams teams;
    private final Jobs jobs;
    private final Clock clock;

    ForecastApi(Forecasts forecasts, Teams teams, Jobs jobs, Clock clock) {
        this.forecasts = forecasts;
        this.teams = teams;
        this.jobs = jobs;
        this.clock = clock;
    }

    /**
     * What will run from one instant until, but not at, another.
     *
     * @param from now where it is missing
     * @param until a day after the beginning where it is missing
     * @param suppose what is to be taken for otherwise than it is, such as {@code lane.card-processor=2}
     */
    @GetMapping
    Forecast show(
            @AuthenticationPrincipal Caller caller,
            @RequestParam(required = false) Instant from,
            @RequestParam(required = false) Instant until,
            @RequestParam(required = false) String team,
            @RequestParam(required = false) String job,
            @RequestParam(required = false) List<String> suppose) {
        Instant begin = from == null ? clock.instant() : from;
        Instant end = until == null ? begin.plus(Duration.ofDays(1)) : until;
        if (!begin.isBefore(end) || Duration.between(begin, end).compareTo(LONGEST) > 0) {
            throw new InvalidException("until", "a span from 'from' to 'until' of at most 400 days is expected");
        }
        if (team != null) {
            teams.visible(caller, team);
        }
        if (job != null) {
            jobs.visible(caller, job);
        }
        return forecasts.between(
                caller,
                begin,
                end,
                Optional.ofNullable(team),
                Optional.ofNullable(job),
                suppose == null ? List.of() : suppose);
    }
}
