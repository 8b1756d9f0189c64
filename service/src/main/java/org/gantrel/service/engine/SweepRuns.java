package org.gantrel.service.engine;

import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Queue;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ConcurrentLinkedQueue;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.roster.Roster.AfterFailure;
import org.gantrel.core.run.CauseKind;
import org.gantrel.core.run.Ending;
import org.gantrel.core.run.RunState;
import org.gantrel.core.text.Words;
import org.gantrel.service.execution.Execution;
import org.gantrel.service.job.JobRecord;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.run.Finish;
import org.gantrel.service.run.NewRun;
import org.gantrel.service.run.RunEnded;
import org.gantrel.service.run.RunRecord;
import org.gantrel.service.run.RunRecord.Stopping;
import org.gantrel.service.run.Runs;
import org.gantrel.service.sweep.Drawing;
import org.gantrel.service.sweep.SweepRecord;
import org.gantrel.service.sweep.SweepRow;
import org.gantrel.service.sweep.SweepRow.Fate;
import org.gantrel.service.sweep.Sweeps;
import org.gantrel.service.time.Waker;
import org.springframework.stereotype.Component;
import org.springframework.transaction.event.TransactionalEventListener;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Leads sweeps: has their rows drawn, and begins the run of a row whenever there is a place. How far a sweep is stands in
 * the database; what is kept here is only a short cut, made again after a restart.
 */
@Component
class SweepRuns {

    private static final int SAID = 3;

    /** How far a sweep is. */
    private static final class Course {
        private int place;
        private int active;
        private boolean failed;
        private boolean through;
    }

    private record RowEnded(long sweep, boolean badly) {}

    private record Drawn(long sweep, Optional<String> trouble) {}

    private final Runs runs;
    private final Jobs jobs;
    private final Sweeps sweeps;
    private final Drawing drawing;
    private final Execution execution;
    private final Waker waker;
    private final TransactionTemplate transaction;
    private final Map<Long, Course> courses = new HashMap<>();
    private final Queue<RowEnded> ended = new ConcurrentLinkedQueue<>();
    private final Queue<Drawn> drawn = new ConcurrentLinkedQueue<>();
    private final Set<Long> stirred = ConcurrentHashMap.newKeySet();

    SweepRuns(
            Runs runs,
            Jobs jobs,
            Sweeps sweeps,
            Drawing drawing,
            Execution execution,
            Waker waker,
            TransactionTemplate transaction) {
        this.runs = runs;
        this.jobs = jobs;
        this.sweeps = sweeps;
        this.drawing = drawing;
        this.execution = execution;
        this.waker = waker;
        this.transaction = transaction;
    }

    void findAgain() {
        for (RunRecord run : runs.runningSweeps()) {
            if (sweeps.of(run.number()).isDrawn()) {
                open(run.number());
            } else {
                drawing.begin(run.number(), this::drawn);
            }
        }
    }

    void start(long number, Instant now) {
        runs.begin(number, execution.identityOf(runs.find(number).orElseThrow()), now);
        drawing.begin(number, this::drawn);
    }

    private void drawn(long sweep, Optional<String> trouble) {
        drawn.add(new Drawn(sweep, trouble));
        waker.wake();
    }

    private void open(long sweep) {
        Map<Fate, Integer> counts = sweeps.counts(sweep);
        var course = new Course();
        course.active = counts.getOrDefault(Fate.STARTED, 0);
        course.failed = counts.getOrDefault(Fate.FAILED, 0) > 0;
        courses.put(sweep, course);
        stirred.add(sweep);
    }

    @TransactionalEventListener
    void follow(RunEnded run) {
        RunRecord row = run.run();
        if (row.cause() == CauseKind.SWEEP && row.parent().isPresent()) {
            boolean badly = row.state() != RunState.SUCCEEDED && row.state() != RunState.WARNED;
            ended.add(new RowEnded(row.parent().get(), badly));
            // rows that end before they begin are followed by others too
            waker.wake();
        }
    }

    /**
     * Writes down the runs of rows, begins as many of them as there are places, and ends the sweeps that are through.
     * Says whether any began.
     */
    boolean lead(Instant now, int places) {
        int free = places;
        for (Drawn each = drawn.poll(); each != null; each = drawn.poll()) {
            if (each.trouble().isPresent()) {
                String why = "its rows could not be drawn: " + each.trouble().get();
                runs.end(each.sweep(), Finish.of(new Ending(RunState.FAILED, why)), now);
            } else {
                open(each.sweep());
            }
        }
        for (RowEnded each = ended.poll(); each != null; each = ended.poll()) {
            Course course = courses.get(each.sweep());
            if (course != null) {
                course.active--;
                course.failed |= each.badly();
                stirred.add(each.sweep());
            }
        }
        for (Long sweep : List.copyOf(stirred)) {
            stirred.remove(sweep);
            Course course = courses.get(sweep);
            if (course == null) {
                continue;
            }
            try {
                int most = free;
                Begun begun = transaction.execute(status -> lead(sweep, course, most, now));
                free -= begun.rows();
                begun.go().run();
            } catch (RuntimeException e) {
                // what was begun is taken back, so the course is read again from the ledger
                open(sweep);
                throw e;
            }
        }
        return free < places;
    }

    /** The rows under way of a sweep that is to be stopped; those that wait are cancelled at once. */
    List<Long> stop(long number, Instant now) {
        if (!courses.containsKey(number)) {
            return List.of();
        }
        stirred.add(number);
        return runs.unended(number).stream()
                .filter(child -> runs.askToStop(child.number(), Stopping.CANCEL, "the sweep", now))
                .map(RunRecord::number)
                .toList();
    }

    /** Rows that are written down as begun in one transaction with their runs; a commit is what costs most. */
    private record Begun(int rows, Runnable go) {}

    private Begun lead(long number, Course course, int places, Instant now) {
        var fresh = new ArrayList<RunRecord>();
        RunRecord run = runs.find(number).orElseThrow();
        SweepRecord sweep = sweeps.of(number);
        boolean stops = run.stopping() != Stopping.NO || (course.failed && sweep.afterFailure() == AfterFailure.STOP);
        int free = sweep.atOnce() - course.active;
        if (!stops && !course.through && free > 0) {
            List<SweepRow> next = sweeps.next(number, course.place, free);
            course.through = next.size() < free;
            JobRecord job = jobs.withId(run.jobId());
            Optional<String> identity = Optional.of(execution.identityOf(jobs.current(job)));
            for (SweepRow row : next) {
                boolean atOnce = fresh.size() < places;
                create(run, job, row, atOnce ? identity : Optional.empty(), now, course)
                        .filter(created -> atOnce)
                        .ifPresent(fresh::add);
            }
        }
        if (course.active == 0 && (stops || course.through)) {
            sweeps.giveUp(number);
            runs.end(number, Finish.of(ending(run, sweeps.counts(number))), now);
            courses.remove(number);
        }
        return new Begun(fresh.size(), execution.launch(fresh));
    }

    /** Writes down the run of a row; with an identity it begins at once. */
    private Optional<RunRecord> create(
            RunRecord sweep, JobRecord job, SweepRow row, Optional<String> identity, Instant now, Course course) {
        Map<String, String> values = Sweeps.together(runs.openValues(sweep), row);
        NewRun from = NewRun.asRow(job, values, sweep, row.place());
        course.place = row.place();
        course.active++;
        try {
            RunRecord child =
                    identity.isPresent() ? runs.createBegun(from, identity.get(), now) : runs.create(from, now);
            sweeps.started(sweep.number(), row.place(), child.number());
            return Optional.of(child);
        } catch (InvalidException e) {
            RunRecord child =
                    runs.createEnded(from, new Ending(RunState.FAILED, "not started: " + Runs.sentence(e)), now);
            sweeps.startedAndEnded(sweep.number(), row.place(), child);
            return Optional.empty();
        }
    }

    private Ending ending(RunRecord run, Map<Fate, Integer> counts) {
        int failed = counts.getOrDefault(Fate.FAILED, 0);
        int warned = counts.getOrDefault(Fate.WARNED, 0);
        int good = counts.getOrDefault(Fate.SUCCEEDED, 0);
        int leftOut = counts.getOrDefault(Fate.LEFT_OUT, 0);
        int notReached = counts.getOrDefault(Fate.NOT_REACHED, 0);
        String rest = (leftOut > 0 ? ", " + leftOut + " left out" : "")
                + (notReached > 0 ? ", " + notReached + " not reached" : "");
        if (run.stopping() != Stopping.NO) {
            return new Ending(
                    RunState.CANCELLED,
                    "cancelled by " + run.stoppedBy() + " after " + Words.count(good, "row") + rest);
        }
        int all = failed + warned + good;
        if (failed > 0) {
            return new Ending(
                    RunState.FAILED,
                    failed + " of " + Words.count(all, "row") + " failed" + rest + ": "
                            + sweeps.firstFailed(run.number(), SAID));
        }
        return warned > 0
                ? new Ending(RunState.WARNED, warned + " of " + Words.count(all, "row") + " with warnings" + rest)
                : new Ending(RunState.SUCCEEDED, Words.count(all, "row") + " went well" + rest);
    }
}
