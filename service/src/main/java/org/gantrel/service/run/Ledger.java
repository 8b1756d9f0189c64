package org.gantrel.service.run;

import jakarta.persistence.EntityManager;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.gantrel.core.job.Job;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.problem.Problem;
import org.gantrel.core.run.CauseKind;
import org.gantrel.core.run.Effect;
import org.gantrel.core.run.Effect.Note;
import org.gantrel.core.run.Ending;
import org.gantrel.core.run.Limits;
import org.gantrel.core.run.RunEvent;
import org.gantrel.core.run.RunLife;
import org.gantrel.core.run.RunPolicy;
import org.gantrel.core.run.RunState;
import org.gantrel.core.run.RunStatus;
import org.gantrel.core.run.RunStatus.Ended;
import org.gantrel.core.run.Wait;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.journal.Journal;
import org.gantrel.service.time.Waker;
import org.springframework.context.ApplicationEventPublisher;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Propagation;
import org.springframework.transaction.annotation.Transactional;

/**
 * The ledger of runs: every run is written down here, and every move of one, in a transaction, with its lines in the
 * timeline and its event in the journal. The engine alone moves runs; others write them down, or wish.
 */
@Component
@Transactional
public class Ledger {

    static final int LONGEST_RESULTS = 100_000;
    private static final ValuesColumn JSON = new ValuesColumn();

    private final EntityManager entities;
    private final RunNumbers numbers;
    private final RunStore store;
    private final Runs runs;
    private final Timeline timeline;
    private final RunValues values;
    private final Lease lease;
    private final Jobs jobs;
    private final Journal journal;
    private final Waker waker;
    private final Arrivals arrivals;
    private final RunWaits waits;
    private final ApplicationEventPublisher followers;

    Ledger(
            EntityManager entities,
            RunNumbers numbers,
            RunStore store,
            Runs runs,
            Timeline timeline,
            RunValues values,
            Lease lease,
            Jobs jobs,
            Journal journal,
            Waker waker,
            Arrivals arrivals,
            RunWaits waits,
            ApplicationEventPublisher followers) {
        this.entities = entities;
        this.numbers = numbers;
        this.store = store;
        this.runs = runs;
        this.timeline = timeline;
        this.values = values;
        this.lease = lease;
        this.jobs = jobs;
        this.journal = journal;
        this.waker = waker;
        this.arrivals = arrivals;
        this.waits = waits;
        this.followers = followers;
    }

    /**
     * Writes down a run that waits to start.
     *
     * @throws InvalidException where a value is unknown, missing or wrong; nothing is written then
     */
    @Transactional(noRollbackFor = InvalidException.class)
    public Run create(NewRun from, Instant now) {
        Job job = jobs.current(from.job());
        RunRecord record = write(fresh(job, from, workedOut(job, from), now), now);
        from.over().ifPresent(over -> followers.publishEvent(new SweepBegun(record.value(), over)));
        waker.wakeAfterCommit();
        return record.value();
    }

    private Map<String, String> workedOut(Job job, NewRun from) {
        return from.over().isPresent()
                ? preset(job, from)
                : values.resolve(job, from.given(), from.cause(), from.planned());
    }

    /** The values that all rows share; what is wrong with them and with the roster is said at once. */
    private Map<String, String> preset(Job job, NewRun from) {
        var problems = new ArrayList<Problem>();
        try {
            followers.publishEvent(new SweepPlanned(from.over().orElseThrow()));
        } catch (InvalidException e) {
            problems.addAll(e.problems());
        }
        try {
            Map<String, String> preset = values.preset(job, from.given(), from.cause(), from.planned());
            if (problems.isEmpty()) {
                return preset;
            }
        } catch (InvalidException e) {
            problems.addAll(e.problems());
        }
        throw new InvalidException(problems);
    }

    /**
     * Writes down a run that begins at once; one row instead of one that is changed in the same breath.
     *
     * @throws InvalidException where a value is unknown, missing or wrong; nothing is written then
     */
    @Transactional(propagation = Propagation.MANDATORY, noRollbackFor = InvalidException.class)
    public Moved createUnderway(NewRun from, String identity, Instant now) {
        lease.check();
        Job job = jobs.current(from.job());
        RunRecord record = fresh(job, from, values.resolve(job, from.given(), from.cause(), from.planned()), now);
        RunLife.Move move = RunLife.on(
                        record.status(), new RunEvent.Admitted(now, identity), policy(record.value(), now), now)
                .orElseThrow();
        record.take(move.next());
        write(record, now);
        move.effects().stream().filter(Note.class::isInstance).forEach(note -> note(record, (Note) note));
        return new Moved(record.value(), move.effects());
    }

    /** Writes down a run that cannot start, with what was given: its occurrence was missed, or its values are wrong. */
    public Run createEnded(NewRun from, Ending ending, Instant now) {
        Job job = jobs.current(from.job());
        RunRecord record = fresh(job, from, asFarAsKnown(job, from), now);
        record.take(new Ended(ending, now));
        write(record, now);
        note(record, new Note(now, ending.state().word().replace('-', ' ') + ": " + ending.message()));
        ended(record);
        return record.value();
    }

    private Map<String, String> asFarAsKnown(Job job, NewRun from) {
        try {
            return workedOut(job, from);
        } catch (InvalidException e) {
            return from.given();
        }
    }

    private RunRecord fresh(Job job, NewRun from, Map<String, String> resolved, Instant now) {
        return new RunRecord(numbers.next(), from, RunValues.shown(job, resolved), values.sealed(job, resolved), now);
    }

    /**
     * Moves a run, where the event moves it as it is now. The record is written with the transaction, on condition that
     * the run is still as it was read.
     */
    @Transactional(propagation = Propagation.MANDATORY)
    public Optional<Moved> move(long number, RunEvent event, Instant now) {
        return move(entities.find(RunRecord.class, number), event, now);
    }

    /** Ends a run whose work is over; nothing where it has ended already. */
    @Transactional(propagation = Propagation.MANDATORY)
    public Optional<Moved> finish(long number, Finish given, Instant at) {
        return finish(number, given, at, at);
    }

    /**
     * The same for work whose end was noticed later than it came.
     *
     * @param at when it ended, by whichever clock wrote that down
     * @param now from when on the wait for its next try counts
     */
    @Transactional(propagation = Propagation.MANDATORY)
    public Optional<Moved> finish(long number, Finish given, Instant at, Instant now) {
        RunRecord record = entities.find(RunRecord.class, number);
        if (record == null || record.state().isEnded()) {
            return Optional.empty();
        }
        Finish finish = bounded(given);
        record.left(finish.exitCode(), finish.results());
        var done = new RunEvent.Done(finish.ending(), finish.doubt(), finish.exitCode(), finish.untold());
        boolean goesOn = RunLife.on(record.status(), done, policy(record.value(), now), now)
                .filter(move -> !move.ends())
                .isPresent();
        Optional<Moved> moved = move(record, done, goesOn ? now : at);
        // what a try found that is followed by another is not what the run found
        moved.filter(Moved::ended)
                .ifPresent(end -> finish.items().forEach(item -> entities.persist(new RunItem(number, item))));
        return moved;
    }

    private static Finish bounded(Finish finish) {
        int length = JSON.convertToDatabaseColumn(finish.results()).length();
        if (length <= LONGEST_RESULTS) {
            return finish;
        }
        RunState state = finish.ending().state() == RunState.SUCCEEDED
                ? RunState.WARNED
                : finish.ending().state();
        var ending = new Ending(
                state,
                finish.ending().message() + "; its results are not kept: they have " + length
                        + " characters, and at most " + LONGEST_RESULTS + " are");
        return new Finish(ending, finish.doubt(), finish.exitCode(), finish.items(), Map.of(), finish.untold());
    }

    private Optional<Moved> move(RunRecord record, RunEvent event, Instant now) {
        if (record == null) {
            return Optional.empty();
        }
        lease.check();
        Optional<RunLife.Move> move = RunLife.on(record.status(), event, policy(record.value(), now), now);
        move.ifPresent(made -> take(record, made, now));
        return move.map(made -> new Moved(record.value(), made.effects()));
    }

    private void take(RunRecord record, RunLife.Move move, Instant now) {
        Set<String> words = indexed(record) ? record.words() : Set.of();
        RunStatus before = record.status();
        Run was = record.value();
        record.take(move.next());
        for (Effect effect : move.effects()) {
            if (effect instanceof Note note) {
                note(record, note);
            } else if (effect instanceof Effect.NoteOnce once) {
                if (timeline.noteOnce(record.number(), once.at(), once.what())) {
                    journal.write("gantrel.run.changed", was.number(), jobs.teamOf(was.jobId()), about(was));
                }
            } else if (effect instanceof Effect.NextAttempt next) {
                entities.persist(new AttemptRecord(was, next));
            }
        }
        Run run = record.value();
        // also where its next try is to come at once: what it waits for then is not said yet
        if (before instanceof RunStatus.Waiting
                && !was.waitingFor().isEmpty()
                && run.waitingFor().isEmpty()) {
            waits.over(
                    run.number(),
                    run.startedAt()
                            .filter(at -> run.state() == RunState.RUNNING)
                            .orElse(now));
        }
        if (move.ends()) {
            index(record, words);
            // the only attempt of a run stands in the run itself
            if (before instanceof RunStatus.Underway && !run.isParent() && run.attempt() > 1) {
                entities.persist(new AttemptRecord(run));
            }
            ended(record);
            return;
        }
        if (before.state() != move.next().state()) {
            if (move.next().state() == RunState.WAITING) {
                Map<String, Object> about = about(run);
                if (before.state().isEnded()) {
                    about.put("was", before.state().word());
                }
                journal.write("gantrel.run.changed", run.number(), jobs.teamOf(run.jobId()), about);
            } else if (indexed(record)) {
                journal.write("gantrel.run.started", run.number(), jobs.teamOf(run.jobId()), about(run));
            }
        } else if (!before.equals(move.next())) {
            journal.write("gantrel.run.changed", run.number(), jobs.teamOf(run.jobId()), about(run));
        }
    }

    private void ended(RunRecord record) {
        Run run = record.value();
        followers.publishEvent(
                new RunEnding(run, () -> jobs.at(run.jobId(), run.revision()).gives()));
        journal.write("gantrel.run.ended", run.number(), jobs.teamOf(run.jobId()), about(run));
    }

    static Map<String, Object> about(Run run) {
        var about = new LinkedHashMap<String, Object>();
        about.put("number", run.number());
        about.put("job", run.jobName());
        about.put("state", run.state().word());
        about.put("cause", run.cause().word());
        run.parent().ifPresent(parent -> about.put("parent", parent));
        run.took().ifPresent(took -> about.put("took", took.toString()));
        if (run.cause() == CauseKind.SCHEDULE && run.state().isEnded()) {
            run.startedAt()
                    .ifPresent(start -> about.put(
                            "lag", Duration.between(run.plannedAt(), start).toString()));
        }
        return about;
    }

    /** What a run's definition says of its life. */
    private RunPolicy policy(Run run, Instant now) {
        Job job = runs.jobOf(run);
        Limits limits = job.rules().limits();
        Optional<Instant> stopAt = run.windowEnd(limits, now);
        return !run.isParent() && job instanceof Job.Task task
                ? new RunPolicy(
                        false,
                        task.timeLimit(),
                        limits.total(),
                        stopAt,
                        limits.patience().orElse(RunPolicy.USUAL_PATIENCE),
                        task.rules().retry())
                // a limit of a job that is a task is that of each row of a sweep of it, and a chain's that of each
                // chain
                : RunPolicy.leading(run.isChain() ? job.timeLimit() : Optional.empty(), stopAt);
    }

    private RunRecord write(RunRecord record, Instant now) {
        entities.persist(record);
        index(record, Set.of());
        if (record.state() == RunState.WAITING) {
            arrivals.note(record.value());
        }
        if (indexed(record)) {
            timeline.note(record.number(), now, "written down: " + Runs.causeWords(record.value()));
            if (!record.state().isEnded()) {
                Run run = record.value();
                journal.write("gantrel.run.created", run.number(), jobs.teamOf(run.jobId()), about(run));
            }
        }
        return record;
    }

    /**
     * Goes once through the life of a run under a number that no run has, for the caller's transaction to take back; what
     * a start needs is in memory then.
     */
    @Transactional(propagation = Propagation.MANDATORY)
    public long goThrough(NewRun from, Instant now) {
        Job job = jobs.current(from.job());
        RunRecord record = new RunRecord(0, from, Map.of(), values.sealed(job, Map.of()), now);
        write(record, now);
        values.open(record.value());
        entities.flush();
        move(record, new RunEvent.Admitted(now, ""), now);
        entities.flush();
        move(record, new RunEvent.Refused(""), now);
        entities.flush();
        return record.number();
    }

    /** A row of a sweep is found through its sweep, and its life is told from itself: a hundred thousand are too many. */
    private static boolean indexed(RunRecord record) {
        return record.cause() != CauseKind.SWEEP;
    }

    private void note(RunRecord record, Note note) {
        if (indexed(record)) {
            timeline.note(record.number(), note.at(), note.what());
        }
    }

    /** Lets a run be found by those of its words that it was not found by before. */
    private void index(RunRecord record, Set<String> before) {
        if (indexed(record)) {
            record.words().stream()
                    .filter(word -> !before.contains(word))
                    .map(word -> new RunWord(record.number(), word))
                    // a chain that goes on after a repair may end with the same words as before
                    .forEach(record.isChain() ? entities::merge : entities::persist);
        }
    }

    /** Lets runs go on waiting, and says for what; those that wait for it already are left alone. */
    @Transactional(propagation = Propagation.MANDATORY)
    public int holdBack(List<Long> numbers, Wait by) {
        String what = RunRecord.waiting(by.text());
        int held = 0;
        for (int from = 0; from < numbers.size(); from += 500) {
            held += store.holdBack(numbers.subList(from, Math.min(numbers.size(), from + 500)), what);
        }
        return held;
    }

    /** Notes that runs wait for something else than before from now on. */
    @Transactional(propagation = Propagation.MANDATORY)
    public void waits(List<Long> numbers, Wait by, Instant now) {
        waits.note(numbers, by, now);
    }

    /** Notes for what a run waited, or the rows of a sweep, when that is over. */
    public void waited(long number, Wait by, Instant since, Instant until) {
        waits.noteOver(number, by, since, until);
    }

    /** Reads runs that are about to be moved with one question instead of one each. */
    @Transactional(propagation = Propagation.MANDATORY)
    public List<Run> read(List<Long> numbers) {
        List<Run> runs = new ArrayList<>();
        store.findAllById(numbers).forEach(record -> runs.add(record.value()));
        followers.publishEvent(new RunsRead(runs));
        return runs;
    }

    /** Notes that a run is late: its deadline came before its end. Told once. No move: the run is where it was. */
    public void late(long number, String sentence, Instant now) {
        if (store.late(number) > 0) {
            tell(number, "gantrel.run.late", sentence, now);
        }
    }

    /** Notes that a run takes far longer than usual. Told once. */
    public void unusuallyLong(long number, String sentence, Instant now) {
        if (store.unusuallyLong(number) > 0) {
            tell(number, "gantrel.run.long", sentence, now);
        }
    }

    /** Notes that a run has waited for longer than is expected. */
    public void waitsLong(long number, String sentence, Instant now) {
        tell(number, "gantrel.run.waits", sentence, now);
    }

    private void tell(long number, String type, String sentence, Instant now) {
        RunRecord record = entities.find(RunRecord.class, number);
        note(record, new Note(now, sentence));
        Run run = record.value();
        var about = new LinkedHashMap<>(about(run));
        about.put("message", sentence);
        journal.write(type, number, jobs.teamOf(run.jobId()), about);
    }

    /** Notes who sees to a failure, so that others need not. No move: the run is where it was. */
    public void takeCharge(long number, String person, Instant now) {
        store.takeCharge(number, person);
        remark(number, person.isEmpty() ? "nobody sees to it any more" : person + " sees to it", now);
        runs.find(number).ifPresent(run -> followers.publishEvent(new Charge(run, person)));
    }

    /** Gives a chain's run other values for what is still to come. @param resolved all its values */
    @Transactional(propagation = Propagation.MANDATORY)
    public void changeValues(long number, Map<String, String> resolved) {
        RunRecord record = entities.find(RunRecord.class, number);
        Job job = runs.jobOf(record.value());
        record.revalue(RunValues.shown(job, resolved), values.sealed(job, resolved));
    }

    /** Puts something that happened to a run into its timeline. */
    public void remark(long number, String what, Instant now) {
        timeline.note(number, now, what);
        store.findById(number)
                .map(RunRecord::value)
                .ifPresent(run -> journal.write("gantrel.run.changed", number, jobs.teamOf(run.jobId()), about(run)));
    }
}
