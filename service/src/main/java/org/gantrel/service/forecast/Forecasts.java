package org.gantrel.service.forecast;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.function.Predicate;
import org.gantrel.core.access.Deed;
import org.gantrel.core.forecast.Simulation;
import org.gantrel.core.forecast.Simulation.Outcome;
import org.gantrel.core.forecast.Simulation.Stuck;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Schedule;
import org.gantrel.core.job.Step;
import org.gantrel.core.problem.Problem;
import org.gantrel.core.run.Admission.LaneNow;
import org.gantrel.core.run.Crowds;
import org.gantrel.core.run.Crowds.Crowd;
import org.gantrel.core.run.Wait;
import org.gantrel.core.text.Nearest;
import org.gantrel.service.durable.Transactions;
import org.gantrel.service.forecast.Forecast.ComingStart;
import org.gantrel.service.forecast.Forecast.Crowded;
import org.gantrel.service.forecast.Forecast.LaneAhead;
import org.gantrel.service.forecast.Forecast.Point;
import org.gantrel.service.job.JobEntry;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.job.RunFacts;
import org.gantrel.service.lane.Lanes;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.schedule.Schedules;
import org.gantrel.service.team.Caller;
import org.springframework.stereotype.Component;
import org.springframework.transaction.PlatformTransactionManager;
import org.springframework.transaction.support.TransactionTemplate;

/** Looks ahead over all schedules. */
@Component
class Forecasts {

    static final int MOST = 20_000;

    private static final Duration WORTH_SAYING = Duration.ofSeconds(1);

    private final Schedules schedules;
    private final RunFacts facts;
    private final Ahead ahead;
    private final Plays plays;
    private final Jobs jobs;
    private final Lanes lanes;
    private final TransactionTemplate reading;
    private final Clock clock;

    Forecasts(
            Schedules schedules,
            RunFacts facts,
            Ahead ahead,
            Plays plays,
            Jobs jobs,
            Lanes lanes,
            PlatformTransactionManager transactions,
            Clock clock) {
        this.plays = plays;
        this.reading = Transactions.reading(transactions);
        this.schedules = schedules;
        this.facts = facts;
        this.ahead = ahead;
        this.jobs = jobs;
        this.lanes = lanes;
        this.clock = clock;
    }

    /** What schedules will start. Not to be called within a transaction: it may have to wait for what is played. */
    Forecast between(
            Caller caller,
            Instant from,
            Instant until,
            Optional<String> team,
            Optional<String> job,
            List<String> suppose) {
        Supposed supposed =
                reading.execute(status -> Supposed.of(suppose, (read, problems) -> check(caller, read, problems)));
        Instant now = clock.instant();
        Ahead.Played played = until.isAfter(now)
                ? plays.until(now, until, supposed)
                : new Ahead.Played(until, Map.of(), Map.of(), List.of(), List.of());
        return reading.execute(status -> of(caller, from, until, team, job, suppose, supposed, played));
    }

    private Forecast of(
            Caller caller,
            Instant from,
            Instant until,
            Optional<String> team,
            Optional<String> job,
            List<String> suppose,
            Supposed supposed,
            Ahead.Played played) {
        Predicate<JobEntry> seen = entry -> caller.may(Deed.SEE_RUNS, entry.team());
        List<ComingStart> all = starts(seen, from, until, supposed, played);
        List<ComingStart> shown = team.isEmpty() && job.isEmpty()
                ? all
                : starts(
                        seen.and(entry -> (team.isEmpty() || entry.team().equals(team.get()))
                                && (job.isEmpty() || entry.name().equals(job.get()))),
                        from,
                        until,
                        supposed,
                        played);
        boolean cut = shown.size() > MOST;
        return new Forecast(
                from,
                until,
                cut,
                played.until().isBefore(until) ? played.until() : null,
                cut ? shown.subList(0, MOST) : shown,
                crowds(all, supposed),
                lanes(caller, from, until, supposed, played),
                suppose);
    }

    /** What is supposed of things that are not there, or not theirs to see, is refused. */
    private void check(Caller caller, Supposed supposed, List<Problem> problems) {
        supposed.widths().keySet().forEach(name -> check(problems, () -> lanes.visible(caller, name)));
        supposed.durations().keySet().forEach(name -> check(problems, () -> task(jobs.visible(caller, name))));
        supposed.schedules()
                .keySet()
                .forEach(name -> check(problems, () -> {
                    JobEntry entry = jobs.visible(caller, name.split("/")[0]);
                    String schedule = name.split("/")[1];
                    List<String> known = jobs.current(entry).schedules().stream()
                            .map(Schedule::name)
                            .toList();
                    if (!known.contains(schedule)) {
                        throw Refusal.notFound("the job " + entry.name() + " has no schedule '" + schedule + "'"
                                + Nearest.hint(schedule, known));
                    }
                }));
    }

    /** A length of its own would say nothing of the lanes that a chain's steps take. */
    private void task(JobEntry entry) {
        if (jobs.current(entry) instanceof Job.Chain chain) {
            String step = chain.steps().stream()
                    .map(Step::job)
                    .filter(job -> !job.isEmpty())
                    .findFirst()
                    .orElse("JOB");
            throw Refusal.conflict(
                    "the chain " + entry.name() + " takes as long as its steps do: suppose the length of one"
                            + " of these, such as duration." + step + "=45 min");
        }
    }

    private static void check(List<Problem> problems, Runnable look) {
        try {
            look.run();
        } catch (Refusal e) {
            problems.add(Problem.of("suppose", e.getMessage()));
        }
    }

    private List<ComingStart> starts(
            Predicate<JobEntry> of, Instant from, Instant until, Supposed supposed, Ahead.Played played) {
        Map<Long, Optional<Duration>> usual = new HashMap<>();
        var found = new ArrayList<ComingStart>();
        // a span has its beginning and not its end
        schedules
                .coming(
                        from.minusNanos(1),
                        until.minusNanos(1),
                        (job, schedule) -> of.test(job),
                        supposed.schedules(),
                        MOST + 1)
                .forEach(start -> found.add(start(start, supposed, usual, played)));
        return found;
    }

    private ComingStart start(
            Schedules.Coming start, Supposed supposed, Map<Long, Optional<Duration>> usual, Ahead.Played played) {
        Instant at = start.at();
        JobEntry entry = jobs.withId(start.jobId());
        Optional<Duration> length = Optional.ofNullable(supposed.durations().get(start.job()))
                .or(() -> usual.computeIfAbsent(start.jobId(), id -> usual(entry, start.schedule())));
        Outcome outcome = played.starts().get(new Ahead.Start(start.job(), start.schedule(), at));
        boolean isPlayed = outcome != null && outcome.begins().isPresent();
        Optional<Stuck> stuck = Optional.ofNullable(outcome).flatMap(Outcome::stuck);
        boolean skipped = outcome != null && outcome.skipped();
        Instant begins = isPlayed ? outcome.begins().get() : null;
        Instant ends = isPlayed && (length.isPresent() || !outcome.run().parts().isEmpty())
                ? outcome.ends().orElse(null)
                : length.filter(any -> stuck.isEmpty() && !skipped)
                        .map(at::plus)
                        .orElse(null);
        boolean waits = isPlayed && outcome.waits().compareTo(WORTH_SAYING) >= 0;
        Optional<Instant> deadline = ahead.deadline(entry, start.schedule(), at, ZoneId.of(start.zone()));
        return new ComingStart(
                at,
                begins,
                ends,
                length.orElse(null),
                waits ? outcome.waits() : null,
                waits
                        ? outcome.waitedFor().map(Wait::text).orElse("its gates")
                        : skipped ? outcome.waitedFor().map(Wait::text).orElse(null) : null,
                stuck.map(Forecasts::words).orElse(null),
                skipped ? true : null,
                deadline.orElse(null),
                deadline.filter(end -> ends != null && ends.isAfter(end))
                        .map(end -> Duration.between(end, ends))
                        .orElse(null),
                start.job(),
                start.team(),
                start.schedule(),
                start.zone());
    }

    /** Why something does not begin within the time that was played. */
    static String words(Stuck stuck) {
        return (stuck.part() ? stuck.job() + ", a step of it," : "it") + " will wait for "
                + stuck.what().map(Wait::text).orElse("its gates") + ", and nothing says until when";
    }

    private Optional<Duration> usual(JobEntry entry, String schedule) {
        boolean over = jobs.current(entry).schedules().stream()
                .anyMatch(each -> each.name().equals(schedule) && !each.over().isEmpty());
        return over ? facts.usualOver(entry.id()) : facts.usual(entry.id());
    }

    private List<Crowd> crowds(List<ComingStart> starts, Supposed supposed) {
        return Crowds.of(
                starts.stream()
                        .filter(start -> start.ends() != null)
                        .map(start -> new Crowds.Span(start.at(), start.ends()))
                        .toList(),
                supposed.places().orElse(ahead.places()));
    }

    private List<LaneAhead> lanes(Caller caller, Instant from, Instant until, Supposed supposed, Ahead.Played played) {
        Map<String, LaneNow> widths = ahead.lanesOf(supposed);
        return lanes.visible(caller).stream()
                .map(state -> {
                    String name = state.lane().name();
                    return new LaneAhead(
                            name,
                            widths.get(name).width(),
                            widths.get(name).shut().orElse(null),
                            points(name, from, until, played),
                            crowded(caller, name, from, until, played));
                })
                .toList();
    }

    private static List<Point> points(String lane, Instant from, Instant until, Ahead.Played played) {
        var changes = new TreeMap<Instant, Integer>();
        for (Simulation.Taken taken : played.taken()) {
            if (taken.lane().equals(lane)
                    && taken.until().isAfter(from)
                    && taken.from().isBefore(until)) {
                changes.merge(taken.from().isBefore(from) ? from : taken.from(), taken.places(), Integer::sum);
                changes.merge(taken.until(), -taken.places(), Integer::sum);
            }
        }
        var points = new ArrayList<Point>();
        int taken = 0;
        for (Map.Entry<Instant, Integer> change : changes.entrySet()) {
            taken += change.getValue();
            points.add(new Point(change.getKey(), taken));
        }
        return points;
    }

    private List<Crowded> crowded(Caller caller, String lane, Instant from, Instant until, Ahead.Played played) {
        var spans = new ArrayList<Crowded>();
        played.waited().stream()
                .filter(each -> each.what().isForLane(lane))
                .filter(each -> each.length().compareTo(WORTH_SAYING) >= 0)
                .filter(each -> each.from().isBefore(until) && each.until().isAfter(from))
                .sorted(Comparator.comparing(Simulation.Waited::from))
                .forEach(each -> {
                    boolean seen = caller.may(Deed.SEE_JOBS, each.team());
                    Instant end = each.until().isAfter(until) ? until : each.until();
                    join(spans, each.from(), end, seen ? each.job() : "another team's job");
                });
        return spans;
    }

    private static void join(List<Crowded> spans, Instant from, Instant until, String job) {
        Crowded last = spans.isEmpty() ? null : spans.get(spans.size() - 1);
        if (last == null || from.isAfter(last.until())) {
            spans.add(new Crowded(from, until, List.of(job)));
            return;
        }
        var jobs = new ArrayList<>(last.jobs());
        if (!jobs.contains(job)) {
            jobs.add(job);
        }
        spans.set(spans.size() - 1, new Crowded(last.from(), until.isAfter(last.until()) ? until : last.until(), jobs));
    }
}
