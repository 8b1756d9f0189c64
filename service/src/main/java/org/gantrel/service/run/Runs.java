package org.gantrel.service.run;

import jakarta.persistence.EntityManager;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collection;
import java.util.Collections;
import java.util.Comparator;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Predicate;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Step;
import org.gantrel.core.notification.Happening;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.problem.Problem;
import org.gantrel.core.run.CauseKind;
import org.gantrel.core.run.RunState;
import org.gantrel.core.text.Words;
import org.gantrel.service.cache.CommittedCache;
import org.gantrel.service.durable.Transactions;
import org.gantrel.service.job.Jobs;
import org.springframework.data.domain.Limit;
import org.springframework.stereotype.Component;
import org.springframework.transaction.PlatformTransactionManager;
import org.springframework.transaction.annotation.Propagation;
import org.springframework.transaction.annotation.Transactional;
import org.springframework.transaction.support.TransactionTemplate;

/** Finds runs. What it gives are values; who wants a run moved writes a wish. */
@Component
@Transactional(readOnly = true)
public class Runs {

    /** More runs of a job than so many do not go side by side for long. */
    private static final int MOST_BESIDE = 20;
    /** A run that began so many runs of all jobs before another does not go beside it. */
    private static final int FAR_BEFORE = 10_000;

    private static final List<RunState> OPEN = List.of(RunState.WAITING, RunState.RUNNING);
    private static final List<RunState> ENDED =
            Arrays.stream(RunState.values()).filter(RunState::isEnded).toList();
    /** The ends that say whether all is well with a job. */
    private static final List<RunState> TELLING = ENDED.stream()
            .filter(state -> Happening.isFault(state) || Happening.isGood(state))
            .toList();
    /** What was planned before a span and ended later than this after it is not looked for: that would cost all ends since. */
    private static final Duration FAR = Duration.ofDays(1);

    private static final List<RunState> GOOD = List.of(RunState.SUCCEEDED, RunState.WARNED);

    /** A step of a chain's run; a sweep's run where no step is named. */
    private record StepKey(long run, String step) {}

    /** The definition that a run was written down with does not change. */
    private final CommittedCache<StepKey, Step.Own> owns = new CommittedCache<>(20_000);

    private final EntityManager entities;
    private final RunStore store;
    private final Timeline timeline;
    private final RunItemStore items;
    private final Jobs jobs;
    private final TransactionTemplate reading;

    Runs(
            EntityManager entities,
            RunStore store,
            Timeline timeline,
            RunItemStore items,
            Jobs jobs,
            PlatformTransactionManager transactions) {
        this.reading = Transactions.reading(transactions);
        this.entities = entities;
        this.store = store;
        this.timeline = timeline;
        this.items = items;
        this.jobs = jobs;
    }

    public Optional<Run> find(long number) {
        // not by the store: its transactions around each look would cost more than the look
        return Optional.ofNullable(entities.find(RunRecord.class, number)).map(RunRecord::value);
    }

    List<RunItem> items(Run run, long after, RunState state, int most) {
        return items.page(run.number(), after, state, Limit.of(most));
    }

    /** Items of the same names in the latest runs of the job up to a run, by the same team, the latest first. */
    List<RunItem> itemsBefore(Run run, List<String> names, int runs, int most) {
        List<Long> latest = store.latestNumbers(run.jobId(), run.number(), Limit.of(runs));
        return latest.isEmpty()
                ? List.of()
                : items.before(
                        run.jobId(),
                        run.teamId(),
                        run.number(),
                        latest.get(latest.size() - 1) - 1,
                        names,
                        Limit.of(most));
    }

    /** How many items a run has, and how many of them failed. */
    long[] itemCounts(Run run) {
        return new long[] {
            items.countByRunNumber(run.number()), items.countByRunNumberAndState(run.number(), RunState.FAILED)
        };
    }

    /** All that wait. */
    public List<Run> waiting() {
        return values(store.findByStateOrderByNumber(RunState.WAITING));
    }

    /** The numbers of all that are in a state. */
    public List<Long> numbers(RunState state) {
        return store.numbers(state);
    }

    /** All whose wait has to do with a lane, in the order of their numbers; far cheaper than to read the runs. */
    public List<Waiter> waitingInLanes() {
        return store.waitingInLanes();
    }

    /** Some runs by their numbers. */
    public List<Run> all(Collection<Long> numbers) {
        return values(store.findAllById(numbers));
    }

    /** All that are under way. */
    public List<Run> underwayAll() {
        return values(store.findByStateOrderByNumber(RunState.RUNNING));
    }

    /** How many tasks are under way. */
    public int underway() {
        return (int) store.countByStateAndKind(RunState.RUNNING, "task");
    }

    /** The runs of a kind that are under way: {@code task}, {@code chain} or {@code sweep}. */
    public List<Run> underway(String kind) {
        return values(store.findByStateAndKindOrderByNumber(RunState.RUNNING, kind));
    }

    /** Whether a run that a schedule of a job started has not ended yet. */
    public boolean isUnderway(long job, String schedule) {
        return store.countUnderway(job, schedule, CauseKind.SCHEDULE, List.of(RunState.WAITING, RunState.RUNNING)) > 0;
    }

    /** The latest run of a job that went well. */
    public Optional<Long> latestGood(String job) {
        return jobs.named(job)
                .flatMap(entry ->
                        store.newest(entry.id(), GOOD, Limit.of(20)).stream().findFirst())
                .map(RunRecord::number);
    }

    /** The latest run of a run's job before it that went well and is of its kind: a row beside rows, a sweep beside sweeps. */
    Optional<Long> goodBefore(Run run) {
        List<Long> found = run.isSweep()
                ? store.goodSweepBefore(run.jobId(), run.number(), GOOD, Limit.of(1))
                : store.goodBefore(run.jobId(), run.number(), run.isRow(), GOOD, Limit.of(1));
        return found.stream().findFirst();
    }

    /** The latest end of a job's runs by itself since a moment. @param good whether it has to have been good */
    public Optional<Run> latestEnd(long job, Instant since, boolean good) {
        List<RunState> states = good
                ? GOOD
                : List.of(RunState.SUCCEEDED, RunState.WARNED, RunState.FAILED, RunState.TIMED_OUT, RunState.CANCELLED);
        return store.ended(job, since, states, Limit.of(1)).stream().findFirst().map(RunRecord::value);
    }

    /** The runs of a parent that have not ended yet. */
    public List<Long> unended(long parent) {
        return store.unended(parent, List.of(RunState.WAITING, RunState.RUNNING));
    }

    /** The runs that a chain's run has started so far. */
    public List<Run> children(long parent) {
        return values(store.findByParentOrderByNumber(parent));
    }

    /** Those of some runs that have ended. */
    public List<Run> ended(Collection<Long> numbers) {
        return numbers.isEmpty()
                ? List.of()
                : values(store.endedOf(numbers, List.of(RunState.WAITING, RunState.RUNNING)));
    }

    /** How many runs a step of a chain's run has had, all rounds together. */
    public int turns(long chain, String step) {
        return store.lastTurn(chain, step).orElse(0);
    }

    /** What runs are of that others have started: a step of a chain, or, with nothing for it, the rows of a sweep. */
    public record Part(long parent, String step) {}

    /**
     * From when until when a try of a run was under way.
     *
     * @param part nothing where nobody else has started it
     * @param until nothing for one that still is
     */
    public record Span(long run, int revision, Optional<Part> part, Instant from, Optional<Instant> until) {}

    /** When tries of a job's runs were under way since a moment, rows and steps too; so many of the latest runs. */
    public List<Span> spans(long job, Instant since, int most) {
        var spans = new ArrayList<Span>();
        var tried = new TreeMap<Long, Begun>();
        for (Begun run : store.begun(job, since, Limit.of(most))) {
            if (run.says()) {
                spans.add(run.span(run.startedAt(), Optional.ofNullable(run.finishedAt())));
            }
            if (run.tried()) {
                tried.put(run.number(), run);
            }
        }
        if (!tried.isEmpty()) {
            for (AttemptRecord each : store.attempts(job, tried.firstKey(), since)) {
                Begun run = tried.get(each.runNumber());
                if (run != null) {
                    spans.add(run.span(each.startedAt(), Optional.of(each.finishedAt())));
                }
            }
        }
        return spans;
    }

    /** Those that have not ended and have a deadline. */
    public List<Run> withDeadline() {
        return values(store.withDeadline(List.of(RunState.WAITING, RunState.RUNNING)));
    }

    /** When the first try of a run began. */
    public Optional<Instant> began(Run run) {
        return attempts(run.number()).stream()
                .findFirst()
                .map(AttemptRecord::startedAt)
                .or(run::startedAt);
    }

    /** The tries of a run that are over. */
    List<AttemptRecord> attempts(long number) {
        return entities.createQuery(
                        "select a from AttemptRecord a where a.runNumber = :run order by a.attempt",
                        AttemptRecord.class)
                .setParameter("run", number)
                .getResultList();
    }

    /** The revision of a run's job by now, where it was changed since; the run keeps that which it was planned with to its end. */
    public Optional<Integer> newerRevision(Run run) {
        return Optional.of(jobs.withId(run.jobId()).revision())
                .filter(current -> current > run.revision() && !run.state().isEnded());
    }

    List<Long> repeats(Run run) {
        return store.repeats(String.valueOf(run.number()), CauseKind.REPEAT);
    }

    /** The run of a job that ended well last, rows of sweeps aside; of runs side by side it need not be the newest. */
    public Optional<Run> lastGood(long job) {
        return store.newest(job, 0, GOOD, CauseKind.SWEEP, Limit.of(1)).stream()
                .findFirst()
                .map(RunRecord::number)
                // a sweep may have very many rows, all of which would be gone through
                .map(newest -> store.newest(job, newest - FAR_BEFORE, GOOD, CauseKind.SWEEP, Limit.of(MOST_BESIDE)))
                .flatMap(beside -> values(beside).stream()
                        .max(Comparator.comparing(run -> run.finishedAt().orElse(Instant.EPOCH))));
    }

    /** The runs that refer to this one as what caused them. */
    public List<Run> causedBy(Run run, CauseKind how) {
        return values(store.findAllById(store.repeats(String.valueOf(run.number()), how)));
    }

    List<RunMoment> timeline(Run run) {
        return timeline.of(run);
    }

    /** How many of the runs of each team that were planned in a span are in each state, steps of chains not counted. */
    public Map<Long, Map<RunState, Long>> countByTeam(Instant from, Instant until) {
        return store.countByTeam(from, until).stream()
                .collect(Collectors.groupingBy(
                        row -> (Long) row[0], Collectors.toMap(row -> (RunState) row[1], row -> (Long) row[2])));
    }

    /** How many runs are in a state. */
    public long count(RunState state) {
        return store.countByState(state);
    }

    /** How many runs are in each state, all but those whose end comes in the journal after a position. */
    public Map<RunState, Long> countUpTo(long position) {
        return counts(store.countUpTo(position));
    }

    /** The runs that were planned in a span, in order; the latest where there are more than so many. */
    public List<Run> planned(List<Long> teams, Instant from, Instant until, int most) {
        var found = new ArrayList<>(values(store.planned(teams, from, until, Limit.of(most))));
        Collections.reverse(found);
        return found;
    }

    /**
     * The runs that were planned in a span, and those of before that reach into it: they wait or are under way still, or ended
     * in it or within a day after it. In the order in which they were planned; the latest where there are more than so many.
     */
    public List<Run> touching(List<Long> teams, Instant from, Instant until, int most) {
        List<Run> planned = planned(teams, from, until, most);
        Limit more = Limit.of(Math.max(1, most - planned.size()));
        List<Run> before = Stream.concat(
                        store.open(teams, from, OPEN, more).stream(),
                        store.reachingInto(teams, from, until.plus(FAR), more).stream())
                .map(RunRecord::value)
                .sorted(Comparator.comparing(Run::plannedAt).thenComparing(Run::number))
                .toList();
        int room = Math.min(before.size(), most - planned.size());
        return Stream.concat(before.subList(before.size() - room, before.size()).stream(), planned.stream())
                .toList();
    }

    /** The runs by themselves whose end was written down in a span, and those that were to have begun by then and have not ended. */
    public List<Run> heardOf(List<Long> teams, Instant from, Instant until, int most) {
        List<Run> found = new ArrayList<>(values(store.open(teams, until, OPEN, Limit.of(most))));
        found.addAll(values(store.ended(teams, from, until, Limit.of(most))));
        return found.stream()
                .filter(run -> run.parent().isEmpty())
                .filter(distinct())
                .sorted(Comparator.comparing(Run::number))
                .toList();
    }

    /** A chain that was taken up again is found as one that ended, and as one that has not. */
    private static Predicate<Run> distinct() {
        Set<Long> seen = new HashSet<>();
        return run -> seen.add(run.number());
    }

    /**
     * The numbers of the runs by themselves that ended last of their job, since a moment, and were faults. A run that was
     * cancelled or skipped says nothing about that.
     */
    public List<Long> faulty(Instant since) {
        Map<Long, End> last = new HashMap<>();
        for (Object[] row : store.latestEnds(since, TELLING)) {
            last.merge((Long) row[0], new End((RunState) row[1], (Instant) row[2]), End::later);
        }
        last.values().removeIf(end -> !Happening.isFault(end.state()));
        return last.entrySet().stream()
                .flatMap(each -> store
                        .findByJobIdAndStateAndFinishedAtAndParentIsNull(
                                each.getKey(),
                                each.getValue().state(),
                                each.getValue().at())
                        .stream()
                        .map(RunRecord::number)
                        .max(Comparator.naturalOrder())
                        .stream())
                .sorted()
                .toList();
    }

    private record End(RunState state, Instant at) {
        /** Of two at the same moment the fault: better looked at in vain than not looked at. */
        private End later(End other) {
            int order = at.compareTo(other.at());
            return order > 0 || order == 0 && Happening.isFault(state) ? this : other;
        }
    }

    /** The runs of a job that ended in a span, the rows of its sweeps aside, the latest first. */
    public List<Run> endedBetween(long job, Instant from, Instant until, int most) {
        return values(store.endedBetween(job, from, until, Limit.of(most)));
    }

    /** The ended runs of a job by itself, the latest first. @param telling only such as say whether all is well with it */
    public List<Run> latest(long job, boolean telling, int most) {
        List<RunState> states = telling ? TELLING : ENDED;
        return values(store.latest(job, states, Limit.of(most)));
    }

    /** The job as it was when the run was written down, with what its chain has of the job's rules for this step. */
    @Transactional(propagation = Propagation.SUPPORTS)
    public Job jobOf(Run run) {
        return ownOf(run).over(jobs.at(run.jobId(), run.revision()));
    }

    /** What a chain alone has of the rules of the job that a run is of; of a sweep's row as of the sweep. */
    private Step.Own ownOf(Run run) {
        if (run.cause() == CauseKind.CHAIN && run.causeRef().matches("\\d{1,18}")) {
            return owns.get(new StepKey(Long.parseLong(run.causeRef()), run.step()), this::readOwn);
        }
        return run.isRow() ? owns.get(new StepKey(run.parent().orElseThrow(), ""), this::readOwn) : Step.Own.NOTHING;
    }

    private Step.Own readOwn(StepKey key) {
        return reading.execute(begun -> readOwnNow(key));
    }

    private Step.Own readOwnNow(StepKey key) {
        Optional<Run> parent = find(key.run());
        if (key.step().isEmpty()) {
            return parent.map(this::ownOf).orElse(Step.Own.NOTHING);
        }
        return parent.map(chain -> jobs.at(chain.jobId(), chain.revision()))
                .filter(Job.Chain.class::isInstance)
                .flatMap(chain -> ((Job.Chain) chain).step(key.step()))
                .map(Step::own)
                .orElse(Step.Own.NOTHING);
    }

    private static List<Run> values(List<RunRecord> records) {
        return records.stream().map(RunRecord::value).toList();
    }

    /** Why a run was started, in words. */
    static String causeWords(Run run) {
        return switch (run.cause()) {
            case SCHEDULE -> "by the schedule " + run.causeRef();
            case PERSON -> "by hand, by " + run.starter();
            case CHAIN -> "as step " + run.step() + " of run " + run.causeRef();
            case REPEAT -> "by " + run.starter() + ", to repeat run " + run.causeRef();
            case SWEEP -> "for row " + run.step() + " of run " + run.causeRef();
            case TRIGGER ->
                "by its trigger " + run.step()
                        + (run.causeRef().startsWith("event ")
                                ? ", upon " + run.causeRef()
                                : ", upon run " + run.causeRef());
            case RETRY -> "by " + run.cause().word() + " " + run.causeRef();
        };
    }

    /** What is wrong with given values, as one sentence. */
    public static String sentence(InvalidException exception) {
        return Words.list(exception.problems().stream().map(Problem::sentence).toList());
    }

    private static Map<RunState, Long> counts(List<Object[]> rows) {
        var counts = new EnumMap<RunState, Long>(RunState.class);
        rows.forEach(row -> counts.put((RunState) row[0], (Long) row[1]));
        return counts;
    }
}
