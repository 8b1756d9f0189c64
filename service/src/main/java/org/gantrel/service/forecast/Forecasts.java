package org.gantrel.service.forecast;

import java.time.Duration;
import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Predicate;
import org.gantrel.core.run.Crowds;
import org.gantrel.core.run.Crowds.Crowd;
import org.gantrel.service.forecast.Forecast.ComingStart;
import org.gantrel.service.job.JobEntry;
import org.gantrel.service.job.RunFacts;
import org.gantrel.service.schedule.Schedules;
import org.gantrel.service.settings.Settings;
import org.gantrel.service.team.Caller;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Looks ahead over all schedules. */
@Component
class Forecasts {

    static final int MOST = 20_000;

    private final Schedules schedules;
    private final RunFacts facts;
    private final int places;

    Forecasts(Schedules schedules, RunFacts facts, Settings settings) {
        this.schedules = schedules;
        this.facts = facts;
        this.places = settings.limits().runsAtOnce();
    }

    @Transactional(readOnly = true)
    Forecast between(Caller caller, Instant from, Instant until, Optional<String> team, Optional<String> job) {
        List<ComingStart> shown = starts(
                caller,
                from,
                until,
                entry -> (team.isEmpty() || entry.team().equals(team.get()))
                        && (job.isEmpty() || entry.name().equals(job.get())));
        boolean narrowed = team.isPresent() || job.isPresent();
        // who crowds the places is everybody, whatever is shown
        List<ComingStart> all = narrowed ? starts(caller, from, until, entry -> true) : shown;
        boolean cut = shown.size() > MOST;
        return new Forecast(from, until, cut, cut ? shown.subList(0, MOST) : shown, crowds(all));
    }

    private List<ComingStart> starts(Caller caller, Instant from, Instant until, Predicate<JobEntry> of) {
        Map<Long, Optional<Duration>> usual = new HashMap<>();
        return schedules.coming(caller, from.minusNanos(1), until, of, MOST + 1).stream()
                .map(start -> {
                    Optional<Duration> length = usual.computeIfAbsent(start.jobId(), facts::usual);
                    return new ComingStart(
                            start.at(),
                            length.map(start.at()::plus).orElse(null),
                            length.orElse(null),
                            start.job(),
                            start.team(),
                            start.schedule(),
                            start.zone());
                })
                .toList();
    }

    private List<Crowd> crowds(List<ComingStart> starts) {
        return Crowds.of(
                starts.stream()
                        .filter(start -> start.ends() != null)
                        .map(start -> new Crowds.Span(start.at(), start.ends()))
                        .toList(),
                places);
    }
}
