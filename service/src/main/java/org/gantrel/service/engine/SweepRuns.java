package org.gantrel.service.engine;

import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Queue;
import java.util.Set;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.function.Predicate;
import org.gantrel.core.gate.Gates;
import org.gantrel.core.job.Job;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.run.Admission.WaitingRows;
import org.gantrel.core.run.Crowd;
import org.gantrel.core.run.Ending;
import org.gantrel.core.run.Overlap;
import org.gantrel.core.run.RunState;
import org.gantrel.core.run.Wait;
import org.gantrel.core.sweep.SharedValues;
import org.gantrel.core.sweep.Sums;
import org.gantrel.core.sweep.SweepCourse;
import org.gantrel.service.execution.Actors;
import org.gantrel.service.job.JobEntry;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.roster.Rosters;
import org.gantrel.service.run.Finish;
import org.gantrel.service.run.Ledger;
import org.gantrel.service.run.Moved;
import org.gantrel.service.run.NewRun;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.RunValues;
import org.gantrel.service.run.Runs;
import org.gantrel.service.sweep.Drawing;
import org.gantrel.service.sweep.SweepGates;
import org.gantrel.service.sweep.SweepRecord;
import org.gantrel.service.sweep.SweepRow;
import org.gantrel.service.sweep.Sweeps;
import org.gantrel.service.time.Waker;
import org.gantrel.service.traffic.Demands;
import org.springframework.stereotype.Component;

/**
 * Leads sweeps: has their rows drawn, and begins the run of a row whenever it may. How far a sweep is stands in the
 * ledger alone.
 */
@Component
class SweepRuns {

    private static final int SAID = 3;
    private static final int MOST_LOOKED_THROUGH = 500;

    /** A drawing that came to its end. */
    record Drawn(long sweep, Optional<String> trouble) {}

    private final Ledger ledger;
    private final Runs runs;
    private final RunValues values;
    private final Jobs jobs;
    private final Sweeps sweeps;
    private final Drawing drawing;
    private final Rosters rosters;
    private final Actors actors;
    private final Demands demands;
    private final SweepGates gatesOf;
    private final Waker waker;
    private final Queue<Drawn> drawn = new ConcurrentLinkedQueue<>();
    private final Set<Long> beingDrawn = new HashSet<>();

    SweepRuns(
            Ledger ledger,
            Runs runs,
            RunValues values,
            Jobs jobs,
            Sweeps sweeps,
            Drawing drawing,
            Rosters rosters,
            Actors actors,
            Demands demands,
            SweepGates gatesOf,
            Waker waker) {
        this.ledger = ledger;
        this.runs = runs;
        this.values = values;
        this.jobs = jobs;
        this.sweeps = sweeps;
        this.drawing = drawing;
        this.rosters = rosters;
        this.actors = actors;
        this.demands = demands;
        this.gatesOf = gatesOf;
        this.waker = waker;
    }

    /** The next drawing that came to its end; null where there is none. */
    Drawn nextDrawn() {
        Drawn next = drawn.poll();
        if (next != null) {
            beingDrawn.remove(next.sweep());
        }
        return next;
    }

    /** Puts one back that could not be dealt with. */
    void again(Drawn one) {
        drawn.add(one);
    }

    /** Has the rows of a sweep brought together, unless that is being done. */
    void draw(long sweep) {
        if (beingDrawn.add(sweep)) {
            drawing.begin(sweep, (number, trouble) -> {
                drawn.add(new Drawn(number, trouble));
                waker.wake();
            });
        }
    }

    /** Ends a sweep whose rows cannot be had. */
    Optional<Moved> giveUp(Drawn failed, Instant now) {
        String why = "its rows could not be drawn: " + failed.trouble().orElseThrow();
        return ledger.finish(failed.sweep(), Finish.of(new Ending(RunState.FAILED, why)), now);
    }

    /** How a sweep goes on: its rows are to be drawn first, it ended, or it could begin rows. */
    record Led(boolean draws, Optional<Moved> end, Optional<WaitingRows> wants) {}

    /** Looks how far a sweep is, and writes down its end where it is through, in the transaction under way. */
    Led lead(Run run, Instant now) {
        SweepRecord sweep = sweeps.of(run.number());
        if (!sweep.isDrawn()) {
            if (run.stop().isAsked()) {
                return new Led(false, end(run, course(run, sweep), now), Optional.empty());
            }
            return new Led(true, Optional.empty(), Optional.empty());
        }
        SweepCourse course = course(run, sweep);
        if (course.ending(() -> "").isPresent()) {
            return new Led(false, end(run, course, now), Optional.empty());
        }
        boolean chains = jobs.withId(run.jobId()).kind().equals("chain");
        return new Led(
                false,
                Optional.empty(),
                course.beginning() == 0
                        ? Optional.empty()
                        : Optional.of(new WaitingRows(
                                run.number(),
                                course.beginning(),
                                chains,
                                jobs.teamOf(run.jobId()),
                                demands.rules(run).priority(),
                                demands.ofRow(run),
                                now)));
    }

    private SweepCourse course(Run run, SweepRecord sweep) {
        return new SweepCourse(
                sweep.atOnce(),
                sweep.afterFailure(),
                sweeps.counts(run.number()),
                run.stop(),
                rosters.current(rosters.withId(sweep.rosterId())).manner().whenEmpty());
    }

    private Optional<Moved> end(Run run, SweepCourse course, Instant now) {
        if (course.givesUp()) {
            sweeps.giveUp(run.number());
        }
        Ending ending =
                course.ending(() -> sweeps.firstFailed(run.number(), SAID)).orElseThrow();
        SweepCourse.Counts counts = sweeps.counts(run.number());
        int all = counts.pending()
                + counts.underway()
                + counts.notReached()
                + counts.succeeded()
                + counts.warned()
                + counts.failed();
        Map<String, String> results = Sums.results(
                sweeps.sums(run.number()),
                jobs.at(run.jobId(), run.revision()).gives(),
                Map.of(
                        "rows", String.valueOf(all),
                        "succeeded", String.valueOf(counts.succeeded() + counts.warned()),
                        "failed", String.valueOf(counts.failed())));
        return ledger.finish(run.number(), new Finish(ending, Optional.empty(), List.of(), results), now);
    }

    /**
     * The rows that began.
     *
     * @param others whether others were written down: that ended at once, or wait for their gates
     * @param apart for what the next one waits, where all are of values that others have now
     */
    record Begun(List<Moved> rows, boolean others, Optional<Wait> apart) {
        boolean isNothing() {
            return rows.isEmpty() && !others;
        }
    }

    /** The runs under way that count together, as rows begin that values tell apart. */
    interface Crowds {
        /** Takes a place among the runs of a crowd; says what to wait for where there is none. */
        Optional<Wait> take(Crowd crowd, int sideBySide);
    }

    private Map<String, String> shown(Job job, NewRun from) {
        try {
            return values.resolve(job, from.given(), from.cause(), from.planned());
        } catch (InvalidException e) {
            // it ends at once, and is in nobody's way
            return from.given();
        }
    }

    /** Whether a row has gates of its own, which it is to wait for. */
    private Predicate<NewRun> withGates(Run sweep, Job job) {
        Gates all = job.rules().gates();
        if (all.isEmpty() || !sweep.gatesSkipped().isEmpty()) {
            return row -> false;
        }
        SharedValues shared = gatesOf.shared(sweep, job);
        return row -> !shared.ofRow(all, shown(job, row)).isEmpty();
    }

    /** Begins the next rows of a sweep in the transaction under way, row and run together: a commit is what costs most. */
    Begun begin(long number, int most, Crowds crowds, Instant now) {
        Run run = runs.find(number).orElseThrow();
        // rows are parts of one run, which keeps its revision
        JobEntry job = jobs.asOf(run.jobId(), run.revision());
        Job definition = runs.jobOf(run);
        String identity = actors.identity(definition);
        Map<String, String> given = values.open(run);
        var begun = new ArrayList<Moved>();
        int waiting = 0;
        boolean ended = false;
        Optional<Wait> first = Optional.empty();
        Predicate<NewRun> waits = withGates(run, definition);
        Overlap overlap = definition.rules().overlap();
        boolean apart = !overlap.apartBy().isEmpty();
        for (SweepRow row : sweeps.next(number, apart ? MOST_LOOKED_THROUGH : most)) {
            NewRun from = NewRun.asRow(job, Sweeps.together(given, row), run, row.place());
            if (begun.size() + waiting == most) {
                break;
            }
            if (apart) {
                Optional<Wait> wait =
                        crowds.take(overlap.crowd(job.name(), shown(definition, from)), overlap.sideBySide());
                if (wait.isPresent()) {
                    first = first.or(() -> wait);
                    continue;
                }
            }
            try {
                if (waits.test(from)) {
                    sweeps.started(number, row.place(), ledger.create(from, now).number());
                    waiting++;
                    continue;
                }
                Moved moved = ledger.createUnderway(from, identity, now);
                sweeps.started(number, row.place(), moved.run().number());
                begun.add(moved);
            } catch (InvalidException e) {
                ledger.createEnded(from, new Ending(RunState.FAILED, "not started: " + Runs.sentence(e)), now);
                ended = true;
            }
        }
        return new Begun(begun, ended || waiting > 0, first);
    }
}
