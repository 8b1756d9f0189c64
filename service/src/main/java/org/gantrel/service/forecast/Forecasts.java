package org.gantrel.service.forecast;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import org.gantrel.service.forecast.Forecast.ComingStart;
import org.gantrel.service.forecast.Forecast.Crowd;
import org.gantrel.service.job.RunFacts;
import org.gantrel.service.schedule.Schedules;
import org.gantrel.service.settings.Settings;
import org.gantrel.service.team.Caller;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Looks ahead over all schedules. */
@Component
class Forecasts {

    private static final int MOST_EACH = 10_000;
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
        Map<Long, Optional<Duration>> usual = new HashMap<>();
        List<ComingStart> all = schedules.coming(caller, from.minusNanos(1), until, MOST_EACH).stream()
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
        List<ComingStart> shown = all.stream()
                .filter(start -> team.isEmpty() || start.team().equals(team.get()))
                .filter(start -> job.isEmpty() || start.job().equals(job.get()))
                .toList();
        boolean cut = shown.size() > MOST;
        return new Forecast(from, until, cut, cut ? shown.subList(0, MOST) : shown, crowds(all));
    }

    /** Goes through all beginnings and ends in order and counts what runs between them. */
    private List<Crowd> crowds(List<ComingStart> starts) {
        var changes = new TreeMap<Instant, Integer>();
        for (ComingStart start : starts) {
            if (start.ends() != null) {
                changes.merge(start.at(), 1, Integer::sum);
                changes.merge(start.ends(), -1, Integer::sum);
            }
        }
        var crowds = new ArrayList<Crowd>();
        int running = 0;
        int most = 0;
        Instant since = null;
        for (Map.Entry<Instant, Integer> change : changes.entrySet()) {
            running += change.getValue();
            if (running > places) {
                since = since == null ? change.getKey() : since;
                most = Math.max(most, running);
            } else if (since != null) {
                crowds.add(new Crowd(since, change.getKey(), most, places));
                since = null;
                most = 0;
            }
        }
        return crowds;
    }
}
