package org.gantrel.service.engine;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import java.time.Instant;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.gantrel.core.chain.ChainCourse;
import org.gantrel.core.chain.Conditions;
import org.gantrel.core.chain.Repetition;
import org.gantrel.core.chain.StepNow;
import org.gantrel.core.chain.StepOrder;
import org.gantrel.core.expression.Bindings;
import org.gantrel.core.expression.ExpressionException;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Step;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.run.Ending;
import org.gantrel.core.run.RunState;
import org.gantrel.core.run.RunStatus.Stop.Why;
import org.gantrel.core.text.Words;
import org.gantrel.service.chain.ChainFacts;
import org.gantrel.service.chain.ChainSteps;
import org.gantrel.service.chain.StepRecord;
import org.gantrel.service.job.JobEntry;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.journal.Journal;
import org.gantrel.service.run.Finish;
import org.gantrel.service.run.Ledger;
import org.gantrel.service.run.Moved;
import org.gantrel.service.run.NewRun;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.RunValues;
import org.gantrel.service.run.Runs;
import org.gantrel.service.run.SweepRequest;
import org.gantrel.service.run.SweepRequest.RowsOfRun;
import org.gantrel.service.time.PutBackSense;
import org.springframework.stereotype.Component;

/**
 * Leads the runs of chains. Where each step is stands in the ledger, written in the transaction that made it so; what
 * comes next is decided from that, so a chain goes on after a restart as if nothing had been. Used by the engine's thread
 * alone.
 */
@Component
class ChainRuns {

    private static final int LONGEST_QUESTION = 180;

    private final Ledger ledger;
    private final Runs runs;
    private final RunValues values;
    private final Jobs jobs;
    private final ChainSteps steps;
    private final Journal journal;

    /** The steps of definitions in order; a definition that is read once serves all runs of it. */
    private final Cache<Job.Chain, StepOrder> orders =
            Caffeine.newBuilder().weakKeys().build();

    /** The first look is one at all that wait: the clock may have been put back before. */
    private final PutBackSense sense = new PutBackSense(Instant.MAX);

    private Instant looked = Instant.EPOCH;
    private Optional<Instant> next = Optional.empty();
    private boolean asked;

    ChainRuns(Ledger ledger, Runs runs, RunValues values, Jobs jobs, ChainSteps steps, Journal journal) {
        this.ledger = ledger;
        this.runs = runs;
        this.values = values;
        this.jobs = jobs;
        this.steps = steps;
        this.journal = journal;
    }

    /**
     * How a chain went on: it ended, or some of its steps were written down, or nothing was to be done.
     *
     * @param lookAgain whether a step ended in the same breath
     * @param others the runs of other chains that were waiting for this one
     */
    record Led(Optional<Moved> end, boolean moved, boolean lookAgain, Set<Long> others) {}

    /** The chains with a step whose time is up; where the clock was put back, all that may have to wait no longer for it. */
    List<Long> due(Instant now) {
        // where the clock was put back, times come again that were not looked for any more
        boolean putBack = sense.look(now).isPresent();
        asked &= !now.isBefore(looked);
        if (asked && next.filter(at -> !now.isBefore(at)).isEmpty()) {
            return List.of();
        }
        asked = false;
        looked = now;
        return putBack ? steps.timed() : steps.due(now);
    }

    /** When the time of a step is up next. */
    Optional<Instant> next() {
        if (!asked) {
            next = steps.next(looked);
            asked = true;
        }
        return next;
    }

    /** Has the next time be looked for anew: somebody wrote into the ledger of chains. */
    void stirred() {
        asked = false;
    }

    /** Writes down the steps that may begin, or the end of a chain that is through, in the transaction under way. */
    Led lead(Run chain, Instant now) {
        stirred();
        return new Look(chain, now).lead();
    }

    /** One look at one chain. */
    private final class Look {
        private final Run chain;
        private final Instant now;
        private final Job.Chain definition;
        private final ChainSteps.Of rows;
        private final ChainFacts facts;
        private final int round;
        private final Set<Long> others = new HashSet<>();
        private Bindings bindings;
        private boolean moved;
        private boolean lookAgain;

        private Look(Run chain, Instant now) {
            this.chain = chain;
            this.now = now;
            this.definition = (Job.Chain) runs.jobOf(chain);
            this.rows = steps.toMove(chain.number());
            this.facts = new ChainFacts(definition, rows, runs);
            this.round = rows.round();
        }

        private Bindings known() {
            if (bindings == null) {
                bindings = values.known(chain).after(facts);
            }
            return bindings;
        }

        private Led lead() {
            takeIn();
            boolean held = rows.isHeld();
            Conditions conditions = expression -> known().holds(expression);
            var course = new ChainCourse(
                    orders.get(definition, each -> new StepOrder(each.steps())),
                    rows.now(),
                    chain.stop(),
                    held,
                    conditions);
            for (ChainCourse.Settled settled : course.settled()) {
                StepRecord row = rows.row(settled.step().name());
                if (settled.now().isEnded()) {
                    row.begin(round, now);
                    end(row, settled.now().state(), settled.why());
                } else {
                    row.outOfReach(settled.why(), now);
                }
                moved = true;
            }
            Optional<Ending> ending = course.ending();
            if (ending.isPresent()) {
                return new Led(ledger.finish(chain.number(), Finish.of(ending.get()), now), true, false, others);
            }
            course.beginning().forEach(this::begin);
            return new Led(Optional.empty(), moved, lookAgain, others);
        }

        /** Takes in what has happened to the steps under way. */
        private void takeIn() {
            List<StepRecord> underWay = rows.toTakeIn();
            List<Long> children = underWay.stream()
                    .filter(row -> row.untilAt().isEmpty())
                    .flatMap(row -> row.child().stream())
                    .toList();
            Map<Long, Run> ended =
                    runs.ended(children).stream().collect(Collectors.toMap(Run::number, Function.identity()));
            for (StepRecord row : underWay) {
                definition.step(row.step()).ifPresent(step -> takeIn(step, row, ended));
            }
        }

        private void takeIn(Step step, StepRecord row, Map<Long, Run> ended) {
            boolean waits = row.child().isEmpty() || row.untilAt().isPresent();
            step.longestWait().map(now::plus).ifPresent(row::awaitAtMost);
            if (waits && chain.stop().isAsked() && !step.last()) {
                end(
                        row,
                        RunState.CANCELLED,
                        chain.stop().why() == Why.CANCEL
                                ? chain.stop().words()
                                : "the chain was " + chain.stop().words());
            } else if (!waits) {
                Run child = ended.get(row.child().get());
                if (child != null) {
                    ended(step, row, child);
                }
            } else if (step.work() instanceof Step.Meeting meeting && hasMet(meeting, row)) {
                end(row, RunState.SUCCEEDED, "met " + Words.list(comers(row)));
            } else if (StepNow.isOver(row.untilAt(), now)) {
                timeIsUp(step, row);
            }
        }

        private void ended(Step step, StepRecord row, Run child) {
            Repetition repetition = step.until()
                    .filter(until -> !chain.stop().isAsked())
                    .map(until -> Repetition.of(
                            until,
                            child.state(),
                            row.turn(),
                            row.beganAt().orElse(now),
                            now,
                            expression -> known().holds(expression)))
                    .orElse(new Repetition.Done());
            if (repetition instanceof Repetition.Again again) {
                row.await(
                        Optional.of(again.at()),
                        "done again: " + step.until().orElseThrow().holds() + " does not hold yet");
                moved = true;
            } else if (repetition instanceof Repetition.GivesUp givesUp) {
                end(row, RunState.FAILED, givesUp.why());
            } else {
                // what follows begins now, and no later than that
                Instant at = child.finishedAt().filter(end -> end.isBefore(now)).orElse(now);
                end(row, child.state(), child.message(), at);
            }
        }

        private void timeIsUp(Step step, StepRecord row) {
            if (step.work() instanceof Step.Pause) {
                end(row, RunState.SUCCEEDED, "the pause is over");
            } else if (step.work() instanceof Step.Approval approval) {
                String why = "nobody decided within "
                        + Words.duration(approval.within().orElseThrow());
                end(row, approval.goesOn() ? RunState.WARNED : RunState.FAILED, why);
            } else if (step.work() instanceof Step.Meeting meeting) {
                String missing = missing(meeting, row);
                String why = (missing.isEmpty() ? "no other chain came" : missing + " did not come") + " within "
                        + Words.duration(meeting.within());
                end(row, meeting.goesOn() ? RunState.WARNED : RunState.FAILED, why);
            } else {
                run(step, row);
            }
        }

        private void end(StepRecord row, RunState state, String why) {
            end(row, state, why, now);
        }

        private void end(StepRecord row, RunState state, String why, Instant at) {
            row.end(state, why, at);
            moved = true;
            tell("gantrel.step.ended", row, Map.of("state", state.word()));
        }

        /** Writes an event of a step into the journal. */
        private void tell(String type, StepRecord row, Map<String, Object> more) {
            var about = new LinkedHashMap<String, Object>();
            about.put("number", chain.number());
            about.put("job", chain.jobName());
            about.put("step", row.step());
            row.child().ifPresent(child -> about.put("child", child));
            about.putAll(more);
            journal.write(type, chain.number(), jobs.teamOf(chain.jobId()), about);
        }

        private void begin(Step step) {
            StepRecord row = rows.row(step.name());
            Optional<Long> before = row.child();
            boolean failedRows = row.failedRows();
            row.begin(round, now);
            moved = true;
            try {
                if (step.work() instanceof Step.Pause pause) {
                    row.await(Optional.of(pause.end(now, chain.planned())), "a pause");
                } else if (step.work() instanceof Step.Approval approval) {
                    String asks = oneLine(known().fill(approval.asks()));
                    row.await(approval.within().map(now::plus), asks);
                    tell("gantrel.approval.asked", row, Map.of("asks", asks));
                } else if (step.work() instanceof Step.Meeting meeting) {
                    meet(meeting, row);
                } else {
                    run(step, row, failedRows ? before : Optional.empty());
                }
            } catch (ExpressionException e) {
                end(row, RunState.FAILED, "not started: " + e.getMessage());
            }
            lookAgain |= !row.isUnderWay() || StepNow.isOver(row.untilAt(), now);
        }

        /** A question is a line, whatever results it speaks of: it becomes the subject of a mail. */
        private static String oneLine(String text) {
            String line = text.replaceAll("\\s+", " ").strip();
            return line.length() <= LONGEST_QUESTION ? line : line.substring(0, LONGEST_QUESTION - 3) + "...";
        }

        private void meet(Step.Meeting meeting, StepRecord row) {
            row.meet(meeting.name(), known().fill(meeting.of()));
            row.await(Optional.of(now.plus(meeting.within())), "");
            if (hasMet(meeting, row)) {
                others.addAll(steps.waitingAt(row.meeting(), row.matched()));
                others.remove(chain.number());
                end(row, RunState.SUCCEEDED, "met " + Words.list(comers(row)));
            } else {
                String missing = missing(meeting, row);
                row.await(row.untilAt(), "waits for " + (missing.isEmpty() ? "another chain" : missing));
            }
        }

        /** The other chains whose runs wait at the same point, or have met there before. */
        private List<String> comers(StepRecord row) {
            return steps.comers(row.meeting(), row.matched(), chain.jobName());
        }

        private boolean hasMet(Step.Meeting meeting, StepRecord row) {
            List<String> here = comers(row);
            return meeting.parties().isEmpty() ? !here.isEmpty() : here.containsAll(partiesBut(meeting));
        }

        private List<String> partiesBut(Step.Meeting meeting) {
            return meeting.parties().stream()
                    .filter(name -> !name.equals(chain.jobName()))
                    .toList();
        }

        /** The chains that are named and have not come; nothing where none is named. */
        private String missing(Step.Meeting meeting, StepRecord row) {
            List<String> here = comers(row);
            return Words.list(partiesBut(meeting).stream()
                    .filter(name -> !here.contains(name))
                    .toList());
        }

        private void run(Step step, StepRecord row) {
            run(step, row, Optional.empty());
        }

        /** Writes down the run of a step; one whose values are wrong, or whose job is gone, ends at once and says why. */
        private void run(Step step, StepRecord row, Optional<Long> failedRowsOf) {
            JobEntry job = jobs.named(step.job()).orElseThrow();
            int turn = round == 1 && row.turn() == 0 ? 1 : runs.turns(chain.number(), step.name()) + 1;
            Map<String, String> with = step.with();
            Run run;
            try {
                if (job.isRetired()) {
                    throw new InvalidException("job", "the job " + job.name() + " is retired");
                }
                with = values.of(step, known());
                run = ledger.create(asStep(step, job, with, turn, failedRowsOf), now);
            } catch (InvalidException e) {
                run = ledger.createEnded(
                        asStep(step, job, with, turn, failedRowsOf),
                        new Ending(RunState.FAILED, "not started: " + Runs.sentence(e)),
                        now);
            }
            row.turn(run.number(), now);
            moved = true;
            if (step.goesOn() && !run.state().isEnded()) {
                end(row, RunState.SUCCEEDED, "run " + run.number() + " goes on by itself");
            } else if (run.state().isEnded()) {
                end(row, run.state(), run.message());
                lookAgain = true;
            }
        }

        private NewRun asStep(
                Step step, JobEntry job, Map<String, String> with, int turn, Optional<Long> failedRowsOf) {
            NewRun from = step.goesOn()
                    ? NewRun.besideChain(job, with, chain, step.name(), turn)
                    : NewRun.asStep(job, with, chain, step.name(), turn);
            if (step.over().isEmpty()) {
                return from;
            }
            SweepRequest all = SweepRequest.all(step.over());
            return from.over(failedRowsOf
                    .map(run -> new RowsOfRun(Step.Which.FAILED, run))
                    .or(() -> step.rowsOf().flatMap(rowsOf -> rows.find(rowsOf.step())
                            .flatMap(StepRecord::child)
                            .map(run -> new RowsOfRun(rowsOf.which(), run))))
                    .map(all::only)
                    .orElse(all));
        }
    }
}
