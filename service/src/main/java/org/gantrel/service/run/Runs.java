package org.gantrel.service.run;

import jakarta.persistence.EntityManager;
import java.time.Instant;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.gantrel.core.expression.ExpressionException;
import org.gantrel.core.expression.Known;
import org.gantrel.core.expression.PlannedTime;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Step;
import org.gantrel.core.parameter.Parameter;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.problem.Problem;
import org.gantrel.core.run.CauseKind;
import org.gantrel.core.run.Ending;
import org.gantrel.core.run.RunState;
import org.gantrel.core.text.Nearest;
import org.gantrel.core.text.Words;
import org.gantrel.core.when.DaySet;
import org.gantrel.service.calendar.Calendars;
import org.gantrel.service.event.Events;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.run.RunRecord.Stopping;
import org.gantrel.service.secret.Seal;
import org.gantrel.service.time.Waker;
import org.springframework.context.ApplicationEventPublisher;
import org.springframework.data.domain.Limit;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Propagation;
import org.springframework.transaction.annotation.Transactional;

/**
 * The ledger of runs. Every move of a run is made here, in a transaction, with its line in the timeline; those who
 * watch hear of it when it is durable.
 */
@Component
@Transactional
public class Runs {

    public static final String MASK = "••••••";

    private static final ValuesColumn JSON = new ValuesColumn();

    private final EntityManager entities;
    private final RunNumbers numbers;
    private final RunStore store;
    private final Timeline timeline;
    private final RunItemStore items;
    private final Calendars calendars;
    private final Jobs jobs;
    private final Seal seal;
    private final Events events;
    private final Waker waker;
    private final ApplicationEventPublisher followers;

    Runs(
            EntityManager entities,
            RunNumbers numbers,
            RunStore store,
            Timeline timeline,
            RunItemStore items,
            Calendars calendars,
            Jobs jobs,
            Seal seal,
            Events events,
            Waker waker,
            ApplicationEventPublisher followers) {
        this.entities = entities;
        this.numbers = numbers;
        this.store = store;
        this.timeline = timeline;
        this.items = items;
        this.calendars = calendars;
        this.jobs = jobs;
        this.seal = seal;
        this.events = events;
        this.waker = waker;
        this.followers = followers;
    }

    /**
     * Writes down a run that waits to start.
     *
     * @throws InvalidException where a value is unknown, missing or wrong; nothing is written then
     */
    @Transactional(noRollbackFor = InvalidException.class)
    public RunRecord create(NewRun from, Instant now) {
        Job job = jobs.current(from.job());
        Map<String, String> values = from.over().isPresent()
                ? job.parameters().preset(from.given())
                : resolve(job, from.given(), from.cause(), from.planned());
        RunRecord run = fresh(job, from, values, now);
        write(run, now);
        from.over().ifPresent(over -> followers.publishEvent(new SweepBegun(run, over)));
        changed(run);
        waker.wakeAfterCommit();
        return run;
    }

    /** Writes down a run that begins at once; one row instead of one that is changed in the same breath. */
    @Transactional(noRollbackFor = InvalidException.class)
    public RunRecord createBegun(NewRun from, String identity, Instant now) {
        Job job = jobs.current(from.job());
        RunRecord run = fresh(job, from, resolve(job, from.given(), from.cause(), from.planned()), now);
        run.begin(identity, now);
        write(run, now);
        timeline.begun(run, now);
        changed(run);
        return run;
    }

    private RunRecord fresh(Job job, NewRun from, Map<String, String> values, Instant now) {
        return new RunRecord(numbers.next(), from, shown(job, values), sealed(job, values), now);
    }

    /**
     * The values of a start. Those that a schedule presets may hold expressions; what a person gives is taken as it is.
     *
     * @throws InvalidException where a value is unknown, missing or wrong
     */
    @Transactional(
            readOnly = true,
            noRollbackFor = {InvalidException.class, ExpressionException.class})
    public Map<String, String> resolve(Job job, Map<String, String> given, CauseKind cause, PlannedTime at) {
        PlannedTime planned = at.knowing(this::openDays);
        if (cause != CauseKind.SCHEDULE) {
            return job.parameters().resolve(given, planned);
        }
        var filled = new LinkedHashMap<String, String>();
        given.forEach((name, text) -> {
            try {
                filled.put(name, new Known(Map.of(), planned).fill(text));
            } catch (ExpressionException e) {
                throw new InvalidException(name, e.getMessage());
            }
        });
        return job.parameters().resolve(filled, planned);
    }

    private DaySet openDays(String calendar) {
        return calendars
                .days(calendar)
                .orElseThrow(() -> new ExpressionException(
                        "there is no calendar '" + calendar + "'" + Nearest.hint(calendar, calendars.names())));
    }

    /** What the texts of a run's definition are filled from: all its values, secrets opened, and its planned time. */
    public Known known(RunRecord run) {
        return known(openValues(run), run.planned());
    }

    /** The same for values that no run has yet. */
    public Known known(Map<String, String> values, PlannedTime planned) {
        return new Known(values, planned.knowing(this::openDays));
    }

    /** Writes down a run that cannot start: its occurrence was missed, or its values are wrong. */
    public RunRecord createEnded(NewRun from, Ending ending, Instant now) {
        RunRecord run = new RunRecord(numbers.next(), from, Map.of(), "", now);
        write(run, now);
        end(run, ending, null, now);
        return run;
    }

    /**
     * Goes once through the life of a run under a number that no run has, for the caller's transaction to take back; what
     * a start needs is in memory then.
     */
    @Transactional(propagation = Propagation.MANDATORY)
    public long goThrough(NewRun from, Instant now) {
        Job job = jobs.current(from.job());
        RunRecord run = new RunRecord(0, from, Map.of(), sealed(job, Map.of()), now);
        write(run, now);
        openValues(run);
        run.begin("", now);
        timeline.note(run, now, "started");
        entities.flush();
        run.end(new Ending(RunState.CANCELLED, ""), null, now);
        timeline.note(run, now, "ended");
        return run.number();
    }

    private void write(RunRecord run, Instant now) {
        entities.persist(run);
        index(run, Set.of());
        timeline.created(run, now);
    }

    /** Lets a run be found by those of its words that it was not found by before. */
    private void index(RunRecord run, Set<String> before) {
        if (run.cause() == CauseKind.SWEEP) {
            // a row is found through its sweep; a word index of a hundred thousand rows would only be in the way
            return;
        }
        run.words().stream()
                .filter(word -> !before.contains(word))
                .forEach(word -> entities.persist(new RunWord(run.number(), word)));
    }

    public void waitFor(long number, String what) {
        RunRecord run = get(number);
        if (!run.waitingFor().equals(what)) {
            run.waitFor(what);
            changed(run);
        }
    }

    public RunRecord begin(long number, String identity, Instant now) {
        RunRecord run = get(number);
        run.begin(identity, now);
        timeline.begun(run, now);
        changed(run);
        return run;
    }

    /** Reads runs that are about to end with one question instead of one each, and what others keep of them. */
    @Transactional(propagation = Propagation.MANDATORY)
    public void readToEnd(List<Long> numbers) {
        followers.publishEvent(new RunsEnding(store.findAllById(numbers)));
    }

    /** Ends a run that has not ended yet. */
    public void end(long number, Finish finish, Instant now) {
        RunRecord run = get(number);
        if (!run.state().isEnded()) {
            finish.items().forEach(item -> entities.persist(new RunItem(number, item)));
            run.keepResults(finish.results());
            end(run, finish.ending(), finish.exitCode().orElse(null), now);
        }
    }

    @Transactional(readOnly = true)
    List<RunItem> items(RunRecord run, long after, RunState state, int most) {
        return items.page(run.number(), after, state, Limit.of(most));
    }

    /** How many items a run has, and how many of them failed. */
    @Transactional(readOnly = true)
    long[] itemCounts(RunRecord run) {
        return new long[] {
            items.countByRunNumber(run.number()), items.countByRunNumberAndState(run.number(), RunState.FAILED)
        };
    }

    private void end(RunRecord run, Ending ending, Integer exitCode, Instant now) {
        Set<String> words = run.cause() == CauseKind.SWEEP ? Set.of() : run.words();
        run.end(ending, exitCode, now);
        index(run, words);
        timeline.ended(run, now);
        followers.publishEvent(new RunEnded(run));
        changed(run);
    }

    /** Notes that a run is to be stopped; one that waits ends at once. Says whether there was anything to stop. */
    public boolean askToStop(long number, Stopping why, String by, Instant now) {
        RunRecord run = get(number);
        if (run.state().isEnded() || run.stopping() != Stopping.NO) {
            return false;
        }
        if (run.state() == RunState.WAITING) {
            end(run, new Ending(RunState.CANCELLED, "cancelled by " + by + " before it started"), null, now);
            return true;
        }
        run.askToStop(why, by);
        timeline.note(
                run, now, why == Stopping.LIMIT ? "reached its time limit; asked to stop" : "asked to stop by " + by);
        changed(run);
        waker.wakeAfterCommit();
        return true;
    }

    /** Notes who sees to a failure, so that others need not. */
    public void takeCharge(long number, String person, Instant now) {
        RunRecord run = get(number);
        run.takeCharge(person);
        timeline.note(run, now, person.isEmpty() ? "nobody sees to it any more" : person + " sees to it");
        changed(run);
    }

    /** Puts something that happened to a run into its timeline. */
    public void remark(long number, String what, Instant now) {
        RunRecord run = get(number);
        timeline.note(run, now, what);
        changed(run);
    }

    @Transactional(readOnly = true)
    public Optional<RunRecord> find(long number) {
        // not by the store: its transactions around each look would cost more than the look
        return Optional.ofNullable(entities.find(RunRecord.class, number));
    }

    @Transactional(readOnly = true)
    public List<RunRecord> waiting(int most) {
        return store.findByStateOrderByPlannedAtAscNumberAsc(RunState.WAITING, Limit.of(most));
    }

    @Transactional(readOnly = true)
    public List<RunRecord> runningTasks() {
        return store.findByStateAndKind(RunState.RUNNING, "task");
    }

    @Transactional(readOnly = true)
    public List<RunRecord> runningChains() {
        return store.findByStateAndKind(RunState.RUNNING, "chain");
    }

    @Transactional(readOnly = true)
    public List<RunRecord> runningSweeps() {
        return store.findByStateAndKind(RunState.RUNNING, "sweep");
    }

    /** The latest run of a job that went well. */
    @Transactional(readOnly = true)
    public Optional<Long> latestGood(String job) {
        return jobs.named(job)
                .flatMap(record -> store
                        .findTop20ByJobIdAndStateInOrderByNumberDesc(
                                record.id(), List.of(RunState.SUCCEEDED, RunState.WARNED))
                        .stream()
                        .findFirst())
                .map(RunRecord::number);
    }

    /** The latest runs of a job that ended before an instant. */
    @Transactional(readOnly = true)
    public List<Long> endedBefore(long job, Instant before) {
        return store.endedBefore(job, before, Limit.of(500));
    }

    /** The runs of a sweep's rows that have not ended yet. */
    @Transactional(readOnly = true)
    public List<RunRecord> unended(long sweep) {
        return store.findByParentAndStateIn(sweep, List.of(RunState.WAITING, RunState.RUNNING));
    }

    /** The runs that a chain's run has started so far. */
    @Transactional(readOnly = true)
    public List<RunRecord> children(long parent) {
        return store.findByParentOrderByNumber(parent);
    }

    /** The runs that repeat this one. */
    @Transactional(readOnly = true)
    List<RunRecord> repeats(RunRecord run) {
        return store.findByCauseRefAndCauseOrderByNumber(String.valueOf(run.number()), CauseKind.REPEAT);
    }

    @Transactional(readOnly = true)
    List<RunMoment> timeline(RunRecord run) {
        return timeline.of(run);
    }

    /** How many of a day's runs are in each state, steps of chains not counted. */
    @Transactional(readOnly = true)
    public Map<RunState, Long> countByState(List<Long> teams, Instant from, Instant until) {
        return counts(store.countByState(teams, from, until));
    }

    @Transactional(readOnly = true)
    public Map<RunState, Long> countAll() {
        return counts(store.countAll());
    }

    @Transactional(readOnly = true)
    public List<RunRecord> planned(List<Long> teams, Instant from, Instant until, int most) {
        return store.planned(teams, from, until, Limit.of(most));
    }

    /** The job as it was when the run was written down. */
    @Transactional(readOnly = true)
    public Job jobOf(RunRecord run) {
        return jobs.at(run.jobId(), run.revision());
    }

    /** Seals the secret values of all runs again under the newest key; says how many runs have some. */
    public int sealAgain() {
        List<RunRecord> found = store.sealed();
        found.forEach(run -> run.seal(seal.seal(seal.open(run.sealed()))));
        return found.size();
    }

    /** All values, secrets opened: for the executor alone, and for masking. */
    public Map<String, String> openValues(RunRecord run) {
        var values = new LinkedHashMap<>(run.parameters());
        values.putAll(secrets(run));
        return values;
    }

    /** The secret values of a run, for masking. */
    public Map<String, String> secrets(RunRecord run) {
        return JSON.convertToEntityAttribute(seal.open(run.sealed()));
    }

    /** All values as one JSON object, secrets opened: for the executor alone. */
    public String valuesAsJson(RunRecord run) {
        return JSON.convertToDatabaseColumn(openValues(run));
    }

    /**
     * The values that a step gives its job, worked out from those of the chain.
     *
     * @throws InvalidException where one cannot be worked out
     */
    @Transactional(noRollbackFor = InvalidException.class)
    public Map<String, String> valuesOf(Step step, RunRecord chain) {
        Known known = known(chain);
        var values = new LinkedHashMap<String, String>();
        step.with().forEach((name, text) -> {
            try {
                values.put(name, known.fill(text));
            } catch (ExpressionException e) {
                throw new InvalidException(name, e.getMessage());
            }
        });
        return values;
    }

    /** Why a run was started, in words. */
    static String causeWords(RunRecord run) {
        return switch (run.cause()) {
            case SCHEDULE -> "by the schedule " + run.causeRef();
            case PERSON -> "by hand, by " + run.starter();
            case CHAIN -> "as step " + run.step() + " of run " + run.causeRef();
            case REPEAT -> "by " + run.starter() + ", to repeat run " + run.causeRef();
            case SWEEP -> "for row " + run.step() + " of run " + run.causeRef();
            case TRIGGER, RETRY -> "by " + run.cause().word() + " " + run.causeRef();
        };
    }

    /** What is wrong with given values, as one sentence. */
    public static String sentence(InvalidException exception) {
        return Words.list(exception.problems().stream().map(Problem::sentence).toList());
    }

    private RunRecord get(long number) {
        return find(number).orElseThrow();
    }

    private void changed(RunRecord run) {
        events.tell(
                "run.changed",
                jobs.teamOf(run.jobId()),
                Map.of(
                        "number",
                        run.number(),
                        "job",
                        run.jobName(),
                        "state",
                        run.state().word()));
    }

    private static Map<String, String> shown(Job job, Map<String, String> values) {
        var shown = new LinkedHashMap<>(values);
        for (Parameter parameter : job.parameters().all()) {
            if (parameter.isSecret()) {
                shown.computeIfPresent(parameter.name(), (name, value) -> MASK);
            }
        }
        return shown;
    }

    private String sealed(Job job, Map<String, String> values) {
        var secrets = new LinkedHashMap<>(values);
        var names = new ArrayList<>(secrets.keySet());
        names.removeIf(
                name -> job.parameters().named(name).filter(Parameter::isSecret).isPresent());
        names.forEach(secrets::remove);
        return seal.seal(JSON.convertToDatabaseColumn(secrets));
    }

    private static Map<RunState, Long> counts(List<Object[]> rows) {
        var counts = new EnumMap<RunState, Long>(RunState.class);
        rows.forEach(row -> counts.put((RunState) row[0], (Long) row[1]));
        return counts;
    }
}
