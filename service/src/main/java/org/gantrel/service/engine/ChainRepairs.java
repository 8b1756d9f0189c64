package org.gantrel.service.engine;

import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.gantrel.core.chain.StepOrder;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Step;
import org.gantrel.core.run.RunEvent;
import org.gantrel.core.run.RunState;
import org.gantrel.service.chain.ChainSteps;
import org.gantrel.service.chain.ChainWants;
import org.gantrel.service.chain.StepRecord;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.journal.Journal;
import org.gantrel.service.run.Ledger;
import org.gantrel.service.run.Moved;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.Runs;
import org.gantrel.service.run.Wishes;
import org.springframework.stereotype.Component;

/**
 * Does what people want of a chain's run: that it goes on after a repair, that a step is skipped, that nothing begins for
 * a while, and what they decided where they were asked. In the transaction under way.
 */
@Component
class ChainRepairs {

    private final Ledger ledger;
    private final Runs runs;
    private final ChainSteps steps;
    private final ChainWants wants;
    private final ChainRuns chains;
    private final Jobs jobs;
    private final Journal journal;

    ChainRepairs(
            Ledger ledger,
            Runs runs,
            ChainSteps steps,
            ChainWants wants,
            ChainRuns chains,
            Jobs jobs,
            Journal journal) {
        this.ledger = ledger;
        this.runs = runs;
        this.steps = steps;
        this.wants = wants;
        this.chains = chains;
        this.jobs = jobs;
        this.journal = journal;
    }

    /** Does it where it can still be done; says in the timeline where it cannot. */
    List<Moved> fulfil(Wishes.Open wish, Instant now) {
        chains.stirred();
        Run run = runs.find(wish.run()).orElseThrow();
        ChainWants.Wanted wanted = wants.read(wish);
        Optional<String> trouble = wants.trouble(run, wish.kind(), wish.step(), wanted);
        if (trouble.isPresent()) {
            ledger.remark(run.number(), "not done for " + wish.person() + ": " + trouble.get(), now);
            return List.of();
        }
        return switch (wish.kind()) {
            case DECIDE -> decide(run, wish, wanted, now);
            case SKIP -> skip(run, wish, wanted, now);
            case GO_ON -> goOn(run, wish, wanted, now);
            case HOLD -> {
                steps.hold(run.number(), wish.person(), wanted.note(), now);
                note(run, "held", wish, wanted.note(), "begins no further step: held by " + wish.person(), now);
                yield List.of();
            }
            case LET_GO -> {
                steps.letGo(run.number());
                note(run, "let-go", wish, wanted.note(), "let go on by " + wish.person(), now);
                yield List.of();
            }
            default -> throw new IllegalArgumentException("no wish of a chain: " + wish.kind());
        };
    }

    private void note(Run run, String kind, Wishes.Open wish, String note, String sentence, Instant now) {
        int round = steps.round(run.number());
        steps.note(run.number(), round, kind, wish.step(), wish.person(), note, now);
        ledger.remark(run.number(), sentence + (note.isEmpty() ? "" : ": " + note), now);
    }

    private List<Moved> decide(Run run, Wishes.Open wish, ChainWants.Wanted wanted, Instant now) {
        StepRecord row = steps.toMove(run.number()).row(wish.step());
        boolean yes = wanted.approves();
        String words = (yes ? "approved by " : "refused by ") + wish.person();
        row.end(
                yes ? RunState.SUCCEEDED : RunState.FAILED,
                words + (wanted.note().isEmpty() ? "" : ": " + wanted.note()),
                now);
        row.by(wish.person());
        journal.write(
                "gantrel.step.ended",
                run.number(),
                jobs.teamOf(run.jobId()),
                Map.of(
                        "number", run.number(),
                        "job", run.jobName(),
                        "step", wish.step(),
                        "state", row.state().word()));
        note(run, yes ? "approved" : "refused", wish, wanted.note(), "step " + wish.step() + " " + words, now);
        return List.of();
    }

    private List<Moved> skip(Run run, Wishes.Open wish, ChainWants.Wanted wanted, Instant now) {
        Job.Chain chain = (Job.Chain) runs.jobOf(run);
        ChainSteps.Of rows = steps.toMove(run.number());
        Set<String> following = new StepOrder(chain.steps()).from(Set.of(wish.step()));
        following.remove(wish.step());
        int round = run.state().isEnded() ? steps.round(run.number()) + 1 : steps.round(run.number());
        steps.note(run.number(), round, "skipped", wish.step(), wish.person(), wanted.note(), now);
        ledger.remark(run.number(), "step " + wish.step() + " skipped by " + wish.person(), now);
        StepRecord row = rows.row(wish.step());
        row.end(RunState.SKIPPED, "skipped by " + wish.person(), now);
        row.by(wish.person());
        again(chain, rows, following, Set.of(), run.state().isEnded());
        return takeUp(run, wish, "with step " + wish.step() + " skipped", now);
    }

    private List<Moved> goOn(Run run, Wishes.Open wish, ChainWants.Wanted wanted, Instant now) {
        Job.Chain chain = (Job.Chain) runs.jobOf(run);
        ChainSteps.Of rows = steps.toMove(run.number());
        Set<String> from = wants.from(run, chain, rows, wish.step());
        var nested = new ArrayList<Moved>();
        int round = steps.round(run.number()) + 1;
        String changed = wanted.values().isEmpty()
                ? ""
                : "with other values for " + String.join(", ", wanted.values().keySet());
        steps.note(run.number(), round, "went-on", wish.step(), wish.person(), wanted.note(changed), now);
        steps.letGo(run.number());
        if (!wanted.values().isEmpty()) {
            ledger.changeValues(run.number(), wants.resolved(run, wanted));
        }
        Set<String> inside = new HashSet<>();
        if (wish.step().isEmpty() && wanted.values().isEmpty()) {
            for (String name : from) {
                StepRecord row = rows.row(name);
                List<Moved> moved = row.child()
                        .flatMap(runs::find)
                        .filter(child -> child.isChain()
                                && child.parent().isPresent()
                                && child.state().isEnded())
                        .map(child -> goOnWithin(child, wish, now))
                        .orElse(List.of());
                if (!moved.isEmpty()) {
                    nested.addAll(moved);
                    inside.add(name);
                    row.goOn(round);
                }
            }
        }
        Set<String> all = new StepOrder(chain.steps()).from(from);
        all.removeAll(inside);
        again(chain, rows, all, wish.step().isEmpty() ? from : Set.of(), true);
        String where = wish.step().isEmpty() ? "from what had failed" : "from step " + wish.step();
        nested.addAll(takeUp(run, wish, where + (changed.isEmpty() ? "" : ", " + changed), now));
        return nested;
    }

    /** A step that is a chain goes on where it broke, in its own run. */
    private List<Moved> goOnWithin(Run child, Wishes.Open wish, Instant now) {
        var inner = new Wishes.Open(wish.id(), child.number(), wish.kind(), wish.person(), "", "");
        return wants.trouble(child, wish.kind(), "", ChainWants.Wanted.NOTHING).isPresent()
                ? List.of()
                : goOn(child, inner, ChainWants.Wanted.NOTHING, now);
    }

    /** Lets steps come again, and the very last ones with them where those have run. */
    private void again(
            Job.Chain chain, ChainSteps.Of rows, Set<String> names, Set<String> onlyFailedRows, boolean lastToo) {
        for (Step step : chain.steps()) {
            boolean comes = names.contains(step.name()) || step.last() && lastToo;
            if (!comes) {
                continue;
            }
            rows.find(step.name())
                    .filter(row -> !row.isUnderWay())
                    .ifPresent(row -> row.again(onlyFailedRows.contains(step.name())
                            && !step.over().isEmpty()
                            && wants.hasFailedRows(row.child())));
        }
    }

    private List<Moved> takeUp(Run run, Wishes.Open wish, String how, Instant now) {
        if (!run.state().isEnded()) {
            return List.of();
        }
        return ledger.move(run.number(), new RunEvent.TakenUp(wish.person(), how), now)
                .map(List::of)
                .orElse(List.of());
    }
}
