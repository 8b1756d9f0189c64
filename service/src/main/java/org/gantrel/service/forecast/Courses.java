package org.gantrel.service.forecast;

import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.gantrel.core.chain.StepsAhead;
import org.gantrel.core.expression.PlannedTime;
import org.gantrel.core.forecast.Bounds;
import org.gantrel.core.forecast.Coming;
import org.gantrel.core.forecast.Coming.Part;
import org.gantrel.core.forecast.Coming.Standing;
import org.gantrel.core.forecast.Coming.Turn;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Rules;
import org.gantrel.core.job.Schedule;
import org.gantrel.core.job.Step;
import org.gantrel.core.run.Admission.Demand;
import org.gantrel.core.run.Crowd;
import org.gantrel.core.run.Overlap;
import org.gantrel.core.run.RunStatus.Stop;
import org.gantrel.core.sweep.SweepCourse;
import org.gantrel.service.chain.ChainSteps;
import org.gantrel.service.chain.StepRecord;
import org.gantrel.service.hold.Holds;
import org.gantrel.service.job.JobEntry;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.job.RunFacts;
import org.gantrel.service.roster.Rosters;
import org.gantrel.service.roster.WrittenRows;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.RunWaits;
import org.gantrel.service.run.Runs;
import org.gantrel.service.schedule.Schedules;
import org.gantrel.service.sweep.SweepRecord;
import org.gantrel.service.sweep.Sweeps;
import org.gantrel.service.traffic.Demands;
import org.gantrel.service.traffic.RowWaits;
import org.springframework.stereotype.Component;

/**
 * Says what is expected of a run: how long it usually takes, what it takes meanwhile, what keeps it from beginning, and of a
 * chain or a sweep all its parts. Of those that are under way, what is left.
 */
@Component
class Courses {

    private static final int DEEPEST = 5;
    /** Rows of a sweep that are foreseen one by one. */
    private static final int MOST_ROWS = 200;

    /** Steps and rows that are foreseen one by one in all; what comes after them is foreseen as a whole. */
    static final int MOST_PARTS = 20_000;

    /** Turns of a step that is done again that are foreseen one by one; hardly anybody waits longer without knowing. */
    private static final int MOST_TURNS = 50;

    private final Runs runs;
    private final Jobs jobs;
    private final RunFacts facts;
    private final RunWaits waits;
    private final Demands demands;
    private final Holds holds;
    private final Rosters rosters;
    private final WrittenRows written;
    private final ChainSteps chains;
    private final Outlooks outlooks;
    private final Sweeps sweeps;
    private final RowWaits rowWaits;

    Courses(
            Runs runs,
            Jobs jobs,
            RunFacts facts,
            RunWaits waits,
            Demands demands,
            Holds holds,
            Rosters rosters,
            WrittenRows written,
            ChainSteps chains,
            Outlooks outlooks,
            Sweeps sweeps,
            RowWaits rowWaits) {
        this.runs = runs;
        this.jobs = jobs;
        this.facts = facts;
        this.waits = waits;
        this.demands = demands;
        this.holds = holds;
        this.rosters = rosters;
        this.written = written;
        this.chains = chains;
        this.outlooks = outlooks;
        this.sweeps = sweeps;
        this.rowWaits = rowWaits;
    }

    /** @param open all runs that wait or are under way */
    Of of(Instant now, Supposed supposed, Collection<Run> open) {
        return new Of(now, supposed, open);
    }

    private record Asked(String job, Rules rules, Map<String, String> values, boolean sweep) {}

    /** What is expected at a moment; each job is asked once how long it takes. */
    final class Of {
        private final Instant now;
        private final Supposed supposed;
        private final HeldBounds bounds;
        private final Map<Long, Run> open;
        private final Map<Long, List<Run>> children;
        private final Map<String, Optional<Duration>> lengths = new HashMap<>();
        private final Map<Long, Duration> gates = new HashMap<>();
        private final Map<Long, Map<String, Duration>> waitsOfSteps = new HashMap<>();
        private final Map<String, Integer> sizes = new HashMap<>();
        private final Map<String, Optional<JobEntry>> named = new HashMap<>();
        private final Map<Asked, Demand> planned = new HashMap<>();
        private final Outlooks.Of outlook = outlooks.of();
        private int parts = MOST_PARTS;

        private Of(Instant now, Supposed supposed, Collection<Run> open) {
            this.now = now;
            this.supposed = supposed;
            this.bounds = new HeldBounds(holds.open(), now);
            this.open = open.stream().collect(Collectors.toMap(Run::number, Function.identity()));
            this.children = open.stream()
                    .filter(run -> run.parent().isPresent())
                    .collect(Collectors.groupingBy(run -> run.parent().get()));
        }

        /** What a run will take; of a chain, which takes what its steps do, it is worked out once. */
        private Demand planned(Job job, Map<String, String> values, boolean sweep) {
            return job instanceof Job.Chain
                    ? planned.computeIfAbsent(
                            new Asked(job.name(), job.rules(), values, sweep),
                            key -> demands.planned(job, values, sweep))
                    : demands.planned(job, values, sweep);
        }

        private Optional<Duration> usual(JobEntry job, boolean sweep) {
            Duration said = supposed.durations().get(job.name());
            return said != null
                    ? Optional.of(said)
                    : lengths.computeIfAbsent(
                            job.name() + sweep, key -> sweep ? facts.usualOver(job.id()) : facts.usual(job.id()));
        }

        private Duration takes(JobEntry job, boolean sweep) {
            return usual(job, sweep).orElse(Duration.ZERO);
        }

        /** A run that is under way or waits. */
        Coming goesOn(Run run) {
            return run.again().isPresent() || run.startedAt().isEmpty() ? waits(run) : underWay(run);
        }

        private Coming underWay(Run run) {
            JobEntry entry = jobs.withId(run.jobId());
            Instant began = run.startedAt().orElseThrow();
            Duration took = Duration.between(began, now);
            List<Part> parts = run.isChain() ? stepsLeft(run) : run.isSweep() ? rowsLeft(run) : List.of();
            Duration takes = !parts.isEmpty()
                    ? Duration.ZERO
                    // one that takes longer than usual may end any moment
                    : longer(took, run.isSweep() ? pace(run, entry, took) : takes(entry, false));
            return new Coming(
                    entry.name(),
                    entry.team(),
                    began,
                    Optional.of(new Standing(true, began)),
                    demands.rules(run).priority(),
                    demands.of(run),
                    demands.takesNoPlace(run),
                    takes,
                    Duration.ZERO,
                    parts,
                    bounds.window(run, runs.jobOf(run)),
                    Turn.AS_PLANNED);
        }

        private Coming waits(Run run) {
            JobEntry entry = jobs.withId(run.jobId());
            Job job = runs.jobOf(run);
            List<Part> parts = job instanceof Job.Chain chain && !run.isSweep()
                    ? steps(Around.of(chain, run.planned(), demands.heldAround(run), outlook.waiting(chain, run)))
                    : List.of();
            return new Coming(
                    entry.name(),
                    entry.team(),
                    run.plannedAt(),
                    Optional.of(new Standing(false, run.waitsSince())),
                    job.rules().priority(),
                    demands.of(run),
                    demands.takesNoPlace(run),
                    parts.isEmpty() ? takes(entry, run.isSweep()) : Duration.ZERO,
                    run.waitsToGoOn() ? Duration.ZERO : gatesOf(entry, job),
                    parts,
                    bounds.of(run, entry, job),
                    Turn.AS_PLANNED);
        }

        /** A start of a schedule. */
        Coming comes(Schedules.Coming start) {
            JobEntry entry = jobs.withId(start.jobId());
            Job job = jobs.current(entry);
            Optional<Schedule> schedule = job.schedules().stream()
                    .filter(each -> each.name().equals(start.schedule()))
                    .findFirst();
            String over = schedule.map(Schedule::over).orElse("");
            Map<String, String> with = schedule.map(Schedule::with).orElse(Map.of());
            var planned = new PlannedTime(start.at(), ZoneId.of(start.zone()));
            boolean sweep = !over.isEmpty();
            List<Part> parts = sweep
                    ? rows(over, entry, job, planned, Set.of())
                    : job instanceof Job.Chain chain
                            ? steps(Around.of(chain, planned, Set.of(), outlook.coming(chain, with, planned)))
                            : List.of();
            return new Coming(
                    entry.name(),
                    entry.team(),
                    start.at(),
                    Optional.empty(),
                    job.rules().priority(),
                    planned(job, outlook.apart(job, with, planned), sweep),
                    sweep || job instanceof Job.Chain || Demands.isOutside(job),
                    parts.isEmpty() ? takes(entry, sweep) : Duration.ZERO,
                    gatesOf(entry, job),
                    parts,
                    bounds.alone(entry, job, planned),
                    Turn.AS_PLANNED);
        }

        /** What is left of a chain that is under way. */
        private List<Part> stepsLeft(Run run) {
            var job = (Job.Chain) runs.jobOf(run);
            ChainSteps.Of rows = chains.of(run.number()).readAll();
            Optional<Bounds.Off> kept =
                    chains.held(run.number()).map(hold -> new Bounds.Off(now, Optional.empty(), false, hold.asWait()));
            Around around = Around.of(job, run.planned(), demands.heldAround(run), outlook.underWay(job, run, rows));
            return affords(job.steps().size())
                    ? parts(
                            StepsAhead.of(job.steps(), rows.now(), run.stop() != Stop.NO, around.outlook()),
                            step -> rows.find(step.name())
                                    .filter(StepRecord::isUnderWay)
                                    .map(row -> turnsLeft(step, row, around))
                                    .orElseGet(() -> turns(step, around, kept)))
                    : List.of();
        }

        /** All steps of a chain that is to come. */
        private List<Part> steps(Around around) {
            List<Step> steps = around.chain().steps();
            return around.depth() < DEEPEST && affords(steps.size())
                    ? parts(
                            StepsAhead.of(steps, Map.of(), false, around.outlook()),
                            step -> turns(step, around, Optional.empty()))
                    : List.of();
        }

        /** @param expected what is expected of a step, one after the other; nothing where nobody knows what it runs */
        private static List<Part> parts(List<StepsAhead.Ahead> ahead, Function<Step, List<Coming>> expected) {
            var parts = new ArrayList<Part>();
            var places = new HashMap<String, Integer>();
            ahead.forEach(each -> {
                List<Integer> after = each.after().stream()
                        .map(places::get)
                        .filter(Objects::nonNull)
                        .toList();
                int needed = Math.min(each.needed(), after.size());
                for (Coming run : expected.apply(each.step())) {
                    places.put(each.step().name(), parts.size());
                    parts.add(new Part(run, after, needed, each.step().goesOn()));
                    after = List.of(parts.size() - 1);
                    needed = 1;
                }
            });
            return parts;
        }

        /** A step that is to come, as often as it is usually done until its result is right. */
        private List<Coming> turns(Step step, Around around, Optional<Bounds.Off> kept) {
            return coming(step, around, kept)
                    .map(turn ->
                            again(step, around, List.of(turn), around.outlook().turns(step) - 1))
                    .orElse(List.of());
        }

        /** What is left of a step under way; of one that is done again, also the turns that are usually left. */
        private List<Coming> turnsLeft(Step step, StepRecord row, Around around) {
            boolean runs = row.child().filter(open::containsKey).isPresent();
            if (step.until().isEmpty() || runs || row.untilAt().isEmpty()) {
                int left = step.until().isEmpty() ? 0 : around.outlook().turns(step) - row.turn();
                return again(step, around, List.of(underWay(step, row, around)), left);
            }
            Instant began = row.beganAt().orElse(now);
            Coming pause = rest(
                            step, around, Duration.between(began, row.untilAt().get()), Optional.empty())
                    .as(new Standing(true, began));
            List<Coming> next = coming(step, around, Optional.empty())
                    .map(turn -> List.of(pause, turn))
                    .orElse(List.of(pause));
            return again(step, around, next, around.outlook().turns(step) - row.turn() - 1);
        }

        /** With so many turns more, each after its wait. */
        private List<Coming> again(Step step, Around around, List<Coming> first, int more) {
            int turns = Math.min(more, MOST_TURNS);
            if (turns <= 0 || !affords(2 * turns)) {
                return first;
            }
            var all = new ArrayList<>(first);
            Coming pause = rest(step, around, step.until().orElseThrow().every(), Optional.empty());
            coming(step, around, Optional.empty()).ifPresent(turn -> {
                for (int i = 0; i < turns; i++) {
                    all.add(pause);
                    all.add(turn);
                }
            });
            return all;
        }

        /** Whether so many parts more can be looked at. */
        private boolean affords(int more) {
            boolean enough = more <= parts;
            parts -= enough ? more : 0;
            return enough;
        }

        /** A step that is under way: the run of it, or what it waits for. */
        private Coming underWay(Step step, StepRecord row, Around around) {
            Optional<Run> child = row.child().map(open::get).filter(Objects::nonNull);
            if (child.isPresent()) {
                return goesOn(child.get());
            }
            Instant began = row.beganAt().orElse(now);
            // one that is done again comes anew
            Duration takes = step.work() instanceof Step.Pause
                    ? Duration.between(began, row.untilAt().orElse(now))
                    : longer(Duration.between(began, now), usualWithoutRun(step, around));
            return step.runs().isPresent()
                    ? coming(step, around, Optional.empty())
                            .orElseGet(() -> rest(step, around, Duration.ZERO, Optional.empty()))
                    : rest(step, around, takes, Optional.empty()).as(new Standing(true, began));
        }

        /** How long people usually take to answer, or other chains to come. */
        private Duration usualWithoutRun(Step step, Around around) {
            return named.computeIfAbsent(around.chain().name(), jobs::named)
                    .map(chain -> waitsOfSteps.computeIfAbsent(chain.id(), chains::usualWithoutRun))
                    .map(usual -> usual.get(step.name()))
                    .orElse(Duration.ZERO);
        }

        private Coming rest(Step step, Around around, Duration takes, Optional<Instant> opens) {
            return Coming.rest(
                    step.name(),
                    around.chain().team(),
                    around.planned().at(),
                    takes,
                    new Bounds(List.of(), opens, Optional.empty()));
        }

        private Optional<Coming> coming(Step step, Around around, Optional<Bounds.Off> kept) {
            if (step.work() instanceof Step.Pause pause) {
                Optional<Instant> until = pause.until().map(time -> pause.end(now, around.planned()));
                return Optional.of(rest(step, around, pause.length().orElse(Duration.ZERO), until));
            }
            if (step.runs().isEmpty()) {
                return Optional.of(rest(step, around, usualWithoutRun(step, around), Optional.empty()));
            }
            return named.computeIfAbsent(step.job(), jobs::named).map(entry -> {
                Job job = step.own().over(jobs.current(entry));
                boolean sweep = !step.over().isEmpty();
                List<Part> parts = sweep
                        ? rows(step.over(), entry, job, around.planned(), around.inherited())
                        : job instanceof Job.Chain inner
                                ? steps(around.inner(inner, around.outlook().within(step, inner, around.planned())))
                                : List.of();
                Bounds own = bounds.ofPart(entry, job, around.planned());
                return new Coming(
                        step.job(),
                        entry.team(),
                        around.planned().at(),
                        Optional.empty(),
                        job.rules().priority(),
                        around.left(planned(job, around.outlook().apart(step, job, around.planned()), sweep)),
                        sweep || job instanceof Job.Chain || Demands.isOutside(job),
                        parts.isEmpty() ? takes(entry, sweep) : Duration.ZERO,
                        gatesOf(entry, job),
                        parts,
                        kept.map(own::and).orElse(own),
                        Turn.AS_PLANNED);
            });
        }

        /**
         * The rows of a written roster, so many at once as it says. None where nobody knows how many there will be, or where
         * the whole is known better than its rows: these take no places in lanes.
         */
        private List<Part> rows(String roster, JobEntry entry, Job job, PlannedTime planned, Set<String> inherited) {
            boolean alone = job.rules().lanes().isEmpty() && usual(entry, true).isPresent();
            int count = alone ? 0 : sizes.computeIfAbsent(roster, this::size);
            if (count == 0 || count > MOST_ROWS || !affords(count)) {
                return List.of();
            }
            int atOnce = rosters.current(rosters.named(roster).orElseThrow())
                    .manner()
                    .atOnce();
            var lanes = new HashMap<>(demands.planned(job, Map.of(), false).lanes());
            lanes.keySet().removeAll(inherited);
            Coming row = row(entry, job, planned, lanes);
            return inTurn(IntStream.range(0, count).mapToObj(place -> row).toList(), atOnce);
        }

        /** How many rows a roster has that is written down. */
        private int size(String roster) {
            return rosters.named(roster)
                    .filter(found -> rosters.current(found).source().isEmpty())
                    .map(written::count)
                    .orElse(0);
        }

        private Coming row(JobEntry entry, Job job, PlannedTime planned, Map<String, Integer> lanes) {
            return new Coming(
                    entry.name(),
                    entry.team(),
                    planned.at(),
                    Optional.empty(),
                    job.rules().priority(),
                    new Demand(lanes, Crowd.NONE, Overlap.USUAL, Set.of()),
                    job instanceof Job.Chain || Demands.isOutside(job),
                    takes(entry, false),
                    Duration.ZERO,
                    List.of(),
                    bounds.ofRow(entry, job, planned),
                    Turn.AS_IT_COMES);
        }

        private static List<Part> inTurn(List<Coming> rows, int atOnce) {
            return IntStream.range(0, rows.size())
                    .mapToObj(place -> Part.of(rows.get(place), place < atOnce ? List.of() : List.of(place - atOnce)))
                    .toList();
        }

        /** The rows that are left of a sweep under way; none where they are too many, or not known yet. */
        private List<Part> rowsLeft(Run run) {
            SweepRecord sweep = sweeps.of(run.number());
            SweepCourse.Counts counts = sweeps.counts(run.number());
            List<Run> begun = children.getOrDefault(run.number(), List.of());
            int pending = run.stop() == Stop.NO ? counts.pending() : 0;
            if (!sweep.isDrawn() || begun.size() + pending > MOST_ROWS || !affords(pending)) {
                return List.of();
            }
            JobEntry entry = jobs.withId(run.jobId());
            var rows = new ArrayList<Coming>();
            begun.forEach(row -> rows.add(goesOn(row)));
            Coming row = row(
                    entry, runs.jobOf(run), run.planned(), demands.ofRow(run).lanes());
            // those that could begin have waited already
            Coming next = rowWaits.of(run.number())
                    .map(wait -> row.as(new Standing(false, wait.ready())))
                    .orElse(row);
            for (int i = 0; i < pending; i++) {
                rows.add(rows.size() < sweep.atOnce() ? next : row);
            }
            return inTurn(rows, sweep.atOnce());
        }

        /** How long a sweep takes whose rows go on as they have so far. */
        private Duration pace(Run run, JobEntry entry, Duration took) {
            return sweeps.progress(run.number())
                    .flatMap(progress -> progress.share())
                    .filter(share -> share > 0)
                    .map(share -> Duration.ofMillis(Math.round(took.toMillis() / share)))
                    .orElseGet(() -> takes(entry, true));
        }

        private Duration gatesOf(JobEntry entry, Job job) {
            return job.rules().gates().isEmpty()
                    ? Duration.ZERO
                    : gates.computeIfAbsent(entry.id(), waits::usualForGates);
        }

        private static Duration longer(Duration one, Duration other) {
            return one.compareTo(other) < 0 ? other : one;
        }
    }
}
