package org.gantrel.service.forecast;

import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.gantrel.core.expression.PlannedTime;
import org.gantrel.core.forecast.Coming;
import org.gantrel.core.forecast.Simulation;
import org.gantrel.core.forecast.Simulation.Outcome;
import org.gantrel.core.job.Schedule;
import org.gantrel.core.run.Admission.LaneNow;
import org.gantrel.service.job.JobEntry;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.lane.Lanes;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.Runs;
import org.gantrel.service.schedule.Schedules;
import org.gantrel.service.settings.Settings;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/**
 * Plays what is to come, of all teams: what is under way and what waits goes on, the schedules start what they start, each
 * run takes as long as it usually does, and the engine's own admission decides what may begin.
 */
@Component
class Ahead {

    /** What is planned within the time that is asked for is played to its end for so long. */
    static final Duration BEYOND = Duration.ofDays(1);

    private static final int MOST = 20_000;

    /** So many starts with a deadline are played also where there are more than could be played. */
    static final int MOST_WITH_DEADLINE = 10_000;

    /** A start of a schedule. */
    record Start(String job, String schedule, Instant at) {}

    /**
     * What was played.
     *
     * @param until up to when all that comes was played; after that, what has a deadline only
     * @param starts by start of a schedule
     * @param runs by number, of what is under way or waits
     */
    record Played(
            Instant until,
            Map<Start, Outcome> starts,
            Map<Long, Outcome> runs,
            List<Simulation.Taken> taken,
            List<Simulation.Waited> waited) {}

    private final Schedules schedules;
    private final Runs runs;
    private final Jobs jobs;
    private final Lanes lanes;
    private final Courses courses;
    private final int places;

    Ahead(Schedules schedules, Runs runs, Jobs jobs, Lanes lanes, Courses courses, Settings settings) {
        this.schedules = schedules;
        this.runs = runs;
        this.jobs = jobs;
        this.lanes = lanes;
        this.courses = courses;
        this.places = settings.limits().runsAtOnce();
    }

    int places() {
        return places;
    }

    @Transactional(readOnly = true)
    Played play(Instant now, Instant end, Supposed supposed) {
        List<Run> open = Stream.concat(runs.underwayAll().stream(), runs.waiting().stream())
                .toList();
        Courses.Of expected = courses.of(now, supposed, open);
        // what others lead is played as a part of these
        List<Run> leading = open.stream().filter(run -> run.parent().isEmpty()).toList();
        List<Coming> coming = leading.stream().map(expected::goesOn).collect(Collectors.toCollection(ArrayList::new));
        var starts = new ArrayList<Start>();
        Planned planned = planned(now, end, supposed);
        for (Schedules.Coming each : planned.starts()) {
            starts.add(new Start(each.job(), each.schedule(), each.at()));
            coming.add(expected.comes(each));
        }
        Simulation.Played played =
                Simulation.play(supposed.places().orElse(places), lanesOf(supposed), coming, now, end.plus(BEYOND));
        var byRun = new HashMap<Long, Outcome>();
        var byStart = new LinkedHashMap<Start, Outcome>();
        List<Outcome> outcomes = played.outcomes();
        for (int i = 0; i < outcomes.size(); i++) {
            if (i < leading.size()) {
                byRun.put(leading.get(i).number(), outcomes.get(i));
            } else {
                byStart.put(starts.get(i - leading.size()), outcomes.get(i));
            }
        }
        return new Played(planned.until(), byStart, byRun, played.taken(), played.waited());
    }

    /** What is played of schedules. @param until before when nothing of what comes is missing */
    private record Planned(Collection<Schedules.Coming> starts, Instant until) {}

    /** The first of what comes, and after these what has a deadline: a crowd of others must not hide that one will be missed. */
    private Planned planned(Instant now, Instant end, Supposed supposed) {
        List<Schedules.Coming> first =
                schedules.coming(now, end, (job, schedule) -> true, supposed.schedules(), MOST + 1);
        if (first.size() <= MOST) {
            return new Planned(first, end);
        }
        Instant until = first.get(MOST).at();
        var all = new LinkedHashSet<>(first.subList(0, MOST));
        all.addAll(schedules.coming(
                until.minusNanos(1), end, this::hasDeadline, supposed.schedules(), MOST_WITH_DEADLINE));
        return new Planned(all, until);
    }

    /** Whether the starts of a schedule have a deadline. */
    boolean hasDeadline(JobEntry entry, String schedule) {
        return definition(entry, schedule).flatMap(Schedule::deadline).isPresent();
    }

    Map<String, LaneNow> lanesOf(Supposed supposed) {
        Map<String, LaneNow> all = new HashMap<>(lanes.now());
        supposed.widths()
                .forEach((name, width) -> all.computeIfPresent(name, (key, lane) -> new LaneNow(width, lane.shut())));
        return all;
    }

    /** The deadline of a start of a schedule. */
    Optional<Instant> deadline(JobEntry entry, String schedule, Instant at, ZoneId zone) {
        return definition(entry, schedule)
                .flatMap(Schedule::deadline)
                .map(deadline -> deadline.of(new PlannedTime(at, zone)));
    }

    private Optional<Schedule> definition(JobEntry entry, String schedule) {
        return jobs.current(entry).schedules().stream()
                .filter(each -> each.name().equals(schedule))
                .findFirst();
    }
}
