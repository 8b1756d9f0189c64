package org.gantrel.service.chain;

import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import org.gantrel.core.chain.StepNow.Place;
import org.gantrel.core.chain.StepOrder;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Step;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.run.CauseKind;
import org.gantrel.core.run.RunState;
import org.gantrel.core.text.Nearest;
import org.gantrel.core.text.Words;
import org.gantrel.service.run.RosterSight;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.RunValues;
import org.gantrel.service.run.Runs;
import org.gantrel.service.run.Wishes;
import org.springframework.stereotype.Component;

/** What can be wanted of a chain's run: the same rules for those who ask and for the engine, which does it a moment later. */
@Component
public class ChainWants {

    private static final String NOTE = " note";
    private static final String APPROVES = " approves";

    private final Runs runs;
    private final RunValues values;
    private final ChainSteps steps;
    private final RosterSight rosters;

    ChainWants(Runs runs, RunValues values, ChainSteps steps, RosterSight rosters) {
        this.runs = runs;
        this.values = values;
        this.steps = steps;
        this.rosters = rosters;
    }

    /**
     * What a wish says beside.
     *
     * @param values other values for the remainder, by parameter
     */
    public record Wanted(boolean approves, String note, Map<String, String> values) {
        public static final Wanted NOTHING = new Wanted(false, "", Map.of());

        /** The note with something before it. */
        public String note(String before) {
            return before.isEmpty() || note.isEmpty() ? before + note : before + "; " + note;
        }
    }

    /** As it is kept with a wish: sealed, since it may hold secrets. */
    String written(Wanted wanted) {
        var all = new LinkedHashMap<>(wanted.values());
        // no parameter has a name with a space
        all.put(NOTE, wanted.note());
        all.put(APPROVES, wanted.approves() ? "yes" : "no");
        return values.sealAll(all);
    }

    public Wanted read(Wishes.Open wish) {
        var all = new LinkedHashMap<>(values.openAll(wish.details()));
        String note = Optional.ofNullable(all.remove(NOTE)).orElse("");
        boolean approves = "yes".equals(all.remove(APPROVES));
        return new Wanted(approves, note, all);
    }

    /** Why something that is wanted of a run cannot be done; nothing where it can. */
    public Optional<String> trouble(Run run, Wishes.Kind kind, String step, Wanted wanted) {
        if (!(run.isChain() && runs.jobOf(run) instanceof Job.Chain chain)) {
            return Optional.of("run " + run.number() + " is no run of a chain");
        }
        if (!step.isEmpty() && chain.step(step).isEmpty()) {
            List<String> names = chain.steps().stream().map(Step::name).toList();
            return Optional.of("the chain has no step '" + step + "'" + Nearest.hint(step, names));
        }
        ChainSteps.Of rows = steps.of(run.number());
        return switch (kind) {
            case DECIDE -> undecidable(run, chain, rows, step);
            case SKIP -> unskippable(run, chain, rows, step);
            case GO_ON -> cannotGoOn(run, chain, rows, step, wanted);
            case HOLD ->
                run.state().isEnded()
                        ? Optional.of("run " + run.number() + " has ended")
                        : steps.held(run.number()).map(held -> "it is held already, by " + held.person());
            case LET_GO ->
                steps.held(run.number()).isPresent()
                        ? Optional.empty()
                        : Optional.of("nobody holds run " + run.number());
            default -> Optional.of("that is not wanted of a chain");
        };
    }

    private static Optional<String> undecidable(Run run, Job.Chain chain, ChainSteps.Of rows, String step) {
        if (!(chain.step(step).orElseThrow().work() instanceof Step.Approval)) {
            return Optional.of("step " + step + " asks nobody: it is no approval");
        }
        Optional<StepRecord> row = rows.find(step);
        if (row.filter(StepRecord::isUnderWay).isPresent() && !run.state().isEnded()) {
            return Optional.empty();
        }
        return Optional.of(row.filter(found -> found.place() == Place.ENDED)
                .map(found -> "step " + step + " has been decided: " + found.message())
                .orElse("step " + step + " does not ask now"));
    }

    private static Optional<String> unskippable(Run run, Job.Chain chain, ChainSteps.Of rows, String step) {
        if (chain.step(step).orElseThrow().last()) {
            return Optional.of("step " + step + " stands under finally and always runs");
        }
        Optional<StepRecord> row = rows.find(step);
        if (row.filter(StepRecord::isUnderWay)
                .filter(found -> found.child().isPresent())
                .isPresent()) {
            return Optional.of("step " + step + " is under way; cancel run "
                    + row.get().child().get() + " first, then skip it");
        }
        boolean done = row.filter(
                        found -> found.place() == Place.ENDED && !found.state().isBad())
                .isPresent();
        if (done) {
            return Optional.of("step " + step + " has been done");
        }
        return inAnother(run).or(() -> busy(rows, following(chain, step)));
    }

    private static Set<String> following(Job.Chain chain, String step) {
        Set<String> all = new StepOrder(chain.steps()).from(Set.of(step));
        all.remove(step);
        return all;
    }

    private Optional<String> cannotGoOn(Run run, Job.Chain chain, ChainSteps.Of rows, String step, Wanted wanted) {
        Optional<String> inAnother = wanted == Wanted.NOTHING ? Optional.empty() : inAnother(run);
        if (inAnother.isPresent()) {
            return inAnother;
        }
        if (run.state() == RunState.WAITING) {
            return Optional.of("run " + run.number() + " waits to start");
        }
        Set<String> from = from(run, chain, rows, step);
        if (from.isEmpty()) {
            return Optional.of(
                    "no step of run " + run.number() + " ended badly; say from which step it is to go on (from)");
        }
        if (!step.isEmpty()
                && rows.find(step).filter(row -> row.place() == Place.ENDED).isEmpty()) {
            return Optional.of(
                    "step " + step + " has not run yet, so there is nothing to repeat; it comes by itself where"
                            + " the steps before it go well");
        }
        Optional<String> busy = busy(rows, new StepOrder(chain.steps()).from(from));
        if (busy.isPresent()) {
            return busy;
        }
        try {
            resolved(run, wanted);
        } catch (InvalidException e) {
            return Optional.of(Runs.sentence(e));
        }
        return Optional.empty();
    }

    private static Optional<String> inAnother(Run run) {
        return run.parent()
                .filter(parent -> run.state().isEnded())
                .map(parent -> "run " + run.number() + " is a step of run " + parent + "; go on there");
    }

    private static Optional<String> busy(ChainSteps.Of rows, Set<String> names) {
        Set<String> busy = new TreeSet<>();
        rows.underWay().stream().filter(names::contains).forEach(busy::add);
        return busy.isEmpty()
                ? Optional.empty()
                : Optional.of("what would come again is under way: " + Words.list(List.copyOf(busy)));
    }

    /** The steps from which it would go on: one that is named, or those that ended badly. */
    public Set<String> from(Run run, Job.Chain chain, ChainSteps.Of rows, String step) {
        if (!step.isEmpty()) {
            return Set.of(step);
        }
        Set<String> from = new HashSet<>();
        boolean cut = false;
        for (Step each : chain.steps()) {
            Optional<StepRecord> row = rows.find(each.name());
            if (row.filter(found ->
                            found.place() == Place.ENDED && found.state().isBad())
                    .isPresent()) {
                from.add(each.name());
            }
            // a chain that was stopped has steps whose time never came
            cut |= row.map(found -> found.place() == Place.PENDING).orElse(true);
        }
        if (from.isEmpty() && cut && run.state().isEnded()) {
            chain.steps().stream()
                    .map(Step::name)
                    .filter(name -> rows.find(name)
                            .map(found -> found.place() == Place.PENDING)
                            .orElse(true))
                    .forEach(from::add);
        }
        return from;
    }

    /** All values of a run with other ones for some. @throws InvalidException where one is wrong */
    public Map<String, String> resolved(Run run, Wanted wanted) {
        var given = new LinkedHashMap<>(values.open(run));
        given.putAll(wanted.values());
        return values.resolve(runs.jobOf(run), given, CauseKind.PERSON, run.planned());
    }

    /** Whether a sweep has rows that ended badly. */
    public boolean hasFailedRows(Optional<Long> sweep) {
        return sweep.filter(run -> rosters.failedOf(run).isPresent()).isPresent();
    }
}
