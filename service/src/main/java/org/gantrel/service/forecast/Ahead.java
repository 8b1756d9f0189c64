package org.gantrel.service.forecast;

import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.ZonedDateTime;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import org.gantrel.core.chain.StepOrder;
import org.gantrel.core.expression.PlannedTime;
import org.gantrel.core.forecast.Bounds;
import org.gantrel.core.forecast.Simulation;
import org.gantrel.core.forecast.Simulation.Coming;
import org.gantrel.core.forecast.Simulation.Outcome;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Schedule;
import org.gantrel.core.job.Step;
import org.gantrel.core.run.Admission.Demand;
import org.gantrel.core.run.Admission.LaneNow;
import org.gantrel.core.run.Overlap;
import org.gantrel.service.hold.Hold;
import org.gantrel.service.hold.Holds;
import org.gantrel.service.job.JobEntry;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.job.RunFacts;
import org.gantrel.service.lane.Lanes;
import org.gantrel.service.roster.RosterRecord;
import org.gantrel.service.roster.Rosters;
import org.gantrel.service.roster.WrittenRows;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.RunWaits;
import org.gantrel.service.run.Runs;
import org.gantrel.service.schedule.Schedules;
import org.gantrel.service.settings.Settings;
import org.gantrel.service.team.Caller;
import org.gantrel.service.traffic.Demands;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/**
 * Plays what is to come, of all teams: what is under way and what waits goes on, the schedules start what they start, each
 * run takes as long as it usually does, and the engine's own admission decides what may begin.
 */
@Component
class Ahead {

    /** No farther than this is played: beyond it nobody knows what else will come. */
    static final Duration FARTHEST = Duration.ofDays(3);

    /** What is planned within the time that is asked for is played to its end for so long. */
    static final Duration BEYOND = Duration.ofDays(1);

    private static final int MOST = 20_000;
    private static final int DEEPEST = 5;
    /** Rows of a sweep within a chain that are foreseen one by one. */
    private static final int MOST_ROWS = 200;

    /** A start of a schedule. */
    record Start(String job, String schedule, Instant at) {}

    /**
     * What was played.
     *
     * @param starts by start of a schedule
     * @param runs by number, of what is under way or waits
     */
    record Played(
            Map<Start, Outcome> starts,
            Map<Long, Outcome> runs,
            List<Simulation.Taken> taken,
            List<Simulation.Waited> waited) {}

    private final Schedules schedules;
    private final Runs runs;
    private final Jobs jobs;
    private final RunFacts facts;
    private final RunWaits waits;
    private final Demands demands;
    private final Lanes lanes;
    private final Holds holds;
    private final Rosters rosters;
    private final WrittenRows written;
    private final int places;

    Ahead(
            Schedules schedules,
            Runs runs,
            Jobs jobs,
            RunFacts facts,
            RunWaits waits,
            Demands demands,
            Lanes lanes,
            Holds holds,
            Rosters rosters,
            WrittenRows written,
            Settings settings) {
        this.schedules = schedules;
        this.runs = runs;
        this.jobs = jobs;
        this.facts = facts;
        this.waits = waits;
        this.demands = demands;
        this.lanes = lanes;
        this.holds = holds;
        this.rosters = rosters;
        this.written = written;
        this.places = settings.limits().runsAtOnce();
    }

    int places() {
        return places;
    }

    @Transactional(readOnly = true)
    Played play(Instant now, Instant until, Supposed supposed) {
        Instant end = until.isAfter(now.plus(FARTHEST)) ? now.plus(FARTHEST) : until;
        var playing = new Playing(now, supposed);
        List<Run> underway = runs.underwayAll().stream()
                .filter(run -> run.parent().isEmpty())
                .toList();
        List<Run> waiting =
                runs.waiting().stream().filter(run -> run.parent().isEmpty()).toList();
        var coming = new ArrayList<Coming>();
        waiting.forEach(run -> coming.add(playing.waits(run)));
        var starts = new ArrayList<Start>();
        List<Schedules.Coming> planned = schedules.coming(Caller.service(), now, end, job -> true, MOST);
        var replaced = new HashSet<String>();
        for (Schedules.Coming each : planned) {
            String name = each.job() + "/" + each.schedule();
            Optional<List<Instant>> others = supposed.schedules().isEmpty() || replaced.contains(name)
                    ? Optional.empty()
                    : supposed.starts(each.job(), each.schedule(), ZoneId.of(each.zone()), now, end, MOST);
            if (others.isPresent() && replaced.add(name)) {
                for (Instant at : others.get()) {
                    starts.add(new Start(each.job(), each.schedule(), at));
                    coming.add(playing.comes(each, at));
                }
            } else if (!replaced.contains(name)) {
                starts.add(new Start(each.job(), each.schedule(), each.at()));
                coming.add(playing.comes(each, each.at()));
            }
        }
        Simulation.Played played = Simulation.play(
                supposed.places().orElse(places),
                lanesOf(supposed),
                underway.stream().map(playing::goesOn).toList(),
                coming,
                now,
                end.plus(BEYOND));
        var byRun = new HashMap<Long, Outcome>();
        var byStart = new LinkedHashMap<Start, Outcome>();
        List<Outcome> outcomes = played.outcomes();
        for (int i = 0; i < outcomes.size(); i++) {
            if (i < underway.size()) {
                byRun.put(underway.get(i).number(), outcomes.get(i));
            } else if (i < underway.size() + waiting.size()) {
                byRun.put(waiting.get(i - underway.size()).number(), outcomes.get(i));
            } else {
                byStart.put(starts.get(i - underway.size() - waiting.size()), outcomes.get(i));
            }
        }
        return new Played(byStart, byRun, played.taken(), played.waited());
    }

    Map<String, LaneNow> lanesOf(Supposed supposed) {
        Map<String, LaneNow> all = new HashMap<>(lanes.now());
        supposed.widths()
                .forEach((name, width) -> all.computeIfPresent(name, (key, lane) -> new LaneNow(width, lane.shut())));
        return all;
    }

    /** One playing, which asks of each job once how long it takes. */
    private final class Playing {
        private final Instant now;
        private final Supposed supposed;
        private final List<Hold> held;
        private final Map<String, Duration> lengths = new HashMap<>();
        private final Map<Long, Duration> gates = new HashMap<>();

        private Playing(Instant now, Supposed supposed) {
            this.now = now;
            this.supposed = supposed;
            this.held = holds.open();
        }

        private Duration takes(JobEntry job, boolean sweep) {
            Duration said = supposed.durations().get(job.name());
            return said != null
                    ? said
                    : lengths.computeIfAbsent(
                            job.name() + sweep,
                            key -> (sweep ? facts.usualOver(job.id()) : facts.usual(job.id())).orElse(Duration.ZERO));
        }

        private Coming goesOn(Run run) {
            JobEntry entry = jobs.withId(run.jobId());
            Duration took = Duration.between(run.startedAt().orElse(now), now);
            Duration takes = takes(entry, run.isSweep());
            return new Coming(
                    entry.name(),
                    entry.team(),
                    run.startedAt().orElse(now),
                    demands.rules(run).priority(),
                    demands.of(run),
                    demands.takesNoPlace(run),
                    // one that takes longer than usual may end any moment
                    takes.compareTo(took) < 0 ? took : takes,
                    Duration.ZERO,
                    List.of(),
                    List.of(),
                    new Bounds(
                            List.of(),
                            demands.rules(run).limits().windowEnd(run.planned()).map(ZonedDateTime::toInstant)));
        }

        private Coming waits(Run run) {
            JobEntry entry = jobs.withId(run.jobId());
            Job job = runs.jobOf(run);
            Instant ready = run.again().map(again -> again.at()).orElse(now);
            ready = later(ready, run.plannedAt().plus(gatesOf(entry, job)), now);
            return new Coming(
                    entry.name(),
                    entry.team(),
                    run.plannedAt(),
                    job.rules().priority(),
                    demands.of(run),
                    demands.takesNoPlace(run),
                    job instanceof Job.Chain ? Duration.ZERO : takes(entry, run.isSweep()),
                    Duration.between(run.plannedAt(), ready),
                    List.of(),
                    run.isChain() ? parts((Job.Chain) job, run.plannedAt(), 0) : List.of(),
                    bounds(entry, job, held, Optional.of(run.planned())));
        }

        private Coming comes(Schedules.Coming start, Instant at) {
            JobEntry entry = jobs.withId(start.jobId());
            Job job = jobs.current(entry);
            Optional<Schedule> schedule = job.schedules().stream()
                    .filter(each -> each.name().equals(start.schedule()))
                    .findFirst();
            boolean sweep = schedule.filter(each -> !each.over().isEmpty()).isPresent();
            boolean chain = job instanceof Job.Chain && !sweep;
            return new Coming(
                    entry.name(),
                    entry.team(),
                    at,
                    job.rules().priority(),
                    demands.planned(job, schedule.map(Schedule::with).orElse(Map.of()), sweep),
                    sweep || chain || Demands.isOutside(job),
                    chain ? Duration.ZERO : takes(entry, sweep),
                    gatesOf(entry, job),
                    List.of(),
                    chain ? parts((Job.Chain) job, at, 0) : List.of(),
                    bounds(entry, job, held, Optional.of(new PlannedTime(at, ZoneId.of(start.zone())))));
        }

        /** The steps that run where all goes well, as tasks and parents that come after each other. */
        private List<Coming> parts(Job.Chain chain, Instant at, int depth) {
            var parts = new ArrayList<Coming>();
            var places = new HashMap<String, Integer>();
            var all = new StepOrder(chain.steps()).sorted();
            var inOrder =
                    new ArrayList<>(all.stream().filter(step -> !step.last()).toList());
            inOrder.addAll(all.stream().filter(Step::last).toList());
            for (Step step : inOrder) {
                List<Integer> after = step.links().stream()
                        .filter(link -> link.on() == Step.FollowsOn.SUCCESS || link.on() == Step.FollowsOn.ANY)
                        .map(link -> places.get(link.after()))
                        .filter(Objects::nonNull)
                        .distinct()
                        .toList();
                boolean played =
                        after.size() >= Math.min(step.needed(), step.after().size()) && depth < DEEPEST;
                if (played) {
                    List<Integer> before = step.last() && after.isEmpty() ? List.copyOf(places.values()) : after;
                    part(chain, step, at, depth, before).ifPresent(part -> {
                        places.put(step.name(), parts.size());
                        parts.add(part);
                    });
                }
            }
            return parts;
        }

        private Optional<Coming> part(Job.Chain chain, Step step, Instant at, int depth, List<Integer> after) {
            if (step.runs().isEmpty()) {
                // how long people take, and others, nobody knows
                Duration length =
                        step.work() instanceof Step.Pause pause ? pause.length().orElse(Duration.ZERO) : Duration.ZERO;
                return Optional.of(new Coming(
                        step.name(),
                        chain.team(),
                        at,
                        chain.rules().priority(),
                        Demand.NOTHING,
                        true,
                        length,
                        Duration.ZERO,
                        after,
                        List.of(),
                        Bounds.NONE));
            }
            Optional<JobEntry> entry = jobs.named(step.job());
            return entry.map(found -> {
                Job job = step.own().over(jobs.current(found));
                boolean sweep = !step.over().isEmpty();
                boolean leads = job instanceof Job.Chain && !sweep;
                List<Coming> rows =
                        sweep && job instanceof Job.Task ? rows(step.over(), found, job, at, chain) : List.of();
                return new Coming(
                        step.job(),
                        found.team(),
                        at,
                        job.rules().priority(),
                        without(demands.planned(job, Map.of(), sweep), chain),
                        leads || sweep || Demands.isOutside(job),
                        leads || !rows.isEmpty() ? Duration.ZERO : takes(found, sweep),
                        gatesOf(found, job),
                        after,
                        leads ? parts((Job.Chain) job, at, depth + 1) : rows,
                        // when it will be planned, and so when its window ends, nobody knows yet
                        bounds(found, job, Holds.ofParts(held), Optional.empty()));
            });
        }

        /** The rows of a written roster, so many at once as it says; none where nobody knows how many there will be. */
        private List<Coming> rows(String roster, JobEntry entry, Job job, Instant at, Job.Chain chain) {
            Optional<RosterRecord> record = rosters.named(roster)
                    .filter(found -> rosters.current(found).source().isEmpty());
            int count = record.map(written::count).orElse(0);
            if (count == 0 || count > MOST_ROWS) {
                return List.of();
            }
            int atOnce = rosters.current(record.get()).manner().atOnce();
            var rows = new ArrayList<Coming>();
            for (int i = 0; i < count; i++) {
                rows.add(new Coming(
                        entry.name(),
                        entry.team(),
                        at,
                        job.rules().priority(),
                        new Demand(
                                without(demands.planned(job, Map.of(), false), chain)
                                        .lanes(),
                                "",
                                Overlap.USUAL,
                                Set.of()),
                        false,
                        takes(entry, false),
                        Duration.ZERO,
                        i < atOnce ? List.of() : List.of(i - atOnce),
                        List.of(),
                        Bounds.NONE));
            }
            return rows;
        }

        private Demand without(Demand demand, Job.Chain chain) {
            var left = new HashMap<>(demand.lanes());
            left.keySet().removeAll(chain.rules().lanes().keySet());
            return new Demand(left, demand.crowd(), demand.overlap(), demand.needs());
        }

        private Duration gatesOf(JobEntry entry, Job job) {
            return job.rules().gates().isEmpty()
                    ? Duration.ZERO
                    : gates.computeIfAbsent(entry.id(), waits::usualForGates);
        }

        /** What is held, and the window that a run is planned in. */
        private Bounds bounds(JobEntry entry, Job job, List<Hold> holds, Optional<PlannedTime> planned) {
            List<Bounds.Off> off = holds.stream()
                    .filter(hold -> hold.concerns(
                            entry.name(), entry.teamId(), job.rules().lanes().keySet()))
                    .map(hold -> new Bounds.Off(hold.from(), hold.until(), hold.skips(), hold.asWait()))
                    .toList();
            Optional<Instant> windowEnd =
                    planned.flatMap(job.rules().limits()::windowEnd).map(ZonedDateTime::toInstant);
            return off.isEmpty() && windowEnd.isEmpty() ? Bounds.NONE : new Bounds(off, windowEnd);
        }

        private static Instant later(Instant one, Instant other, Instant third) {
            Instant latest = one.isAfter(other) ? one : other;
            return latest.isAfter(third) ? latest : third;
        }
    }

    /** The deadline of a start of a schedule. */
    Optional<Instant> deadline(JobEntry entry, String schedule, Instant at, ZoneId zone) {
        return jobs.current(entry).schedules().stream()
                .filter(each -> each.name().equals(schedule))
                .findFirst()
                .flatMap(Schedule::deadline)
                .map(deadline -> deadline.of(new PlannedTime(at, zone)));
    }
}
