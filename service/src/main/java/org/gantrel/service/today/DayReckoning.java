package org.gantrel.service.today;

import java.time.Instant;
import java.util.Collection;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.gantrel.core.run.RunState;
import org.gantrel.service.cache.Shared;
import org.gantrel.service.run.Runs;
import org.springframework.stereotype.Component;

/**
 * What of a day is reckoned from all its runs. With many runs that takes a second, and whoever has the page open asks again
 * with each end: it is reckoned for all teams at once, and shared by those who ask at the same time.
 */
@Component
class DayReckoning {

    /** Pages begin at the midnights of few zones, or at the minute. */
    private static final int MOST_DAYS = 16;

    private record Span(Instant from, Instant until) {}

    private final Runs runs;
    private final Shared<Span, Map<Long, Map<RunState, Long>>> counts = new Shared<>(MOST_DAYS);
    private final Shared<Boolean, List<Long>> faulty = new Shared<>(1);

    DayReckoning(Runs runs) {
        this.runs = runs;
    }

    /** How many runs of some teams that were planned in a span are in each state, steps of chains not counted. */
    Map<RunState, Long> counts(Collection<Long> teams, Instant from, Instant until) {
        Map<RunState, Long> sum = new EnumMap<>(RunState.class);
        Map<Long, Map<RunState, Long>> of = counts.get(new Span(from, until), () -> runs.countByTeam(from, until));
        Set.copyOf(teams).forEach(team -> of.getOrDefault(team, Map.of())
                .forEach((state, count) -> sum.merge(state, count, Long::sum)));
        return sum;
    }

    /** The runs of jobs of all teams that are not well since a moment, see {@link Runs#faulty}. */
    List<Long> faulty(Instant since) {
        return faulty.get(true, () -> runs.faulty(since));
    }
}
