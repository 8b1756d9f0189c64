package org.gantrel.core.chain;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.gantrel.core.chain.StepNow.Place;
import org.gantrel.core.expression.ExpressionException;
import org.gantrel.core.job.Step;
import org.gantrel.core.job.Step.FollowsOn;
import org.gantrel.core.job.Step.Link;
import org.gantrel.core.run.Ending;
import org.gantrel.core.run.RunState;
import org.gantrel.core.run.RunStatus.Stop;
import org.gantrel.core.text.Words;

/**
 * Decides how a chain goes on. Pure: given its steps and where they are, it names the steps that begin now and those that
 * no longer can, or says that the chain has ended and how. Each step and each link is looked at once.
 *
 * <p>A step begins when as many of its links hold as it needs, and its condition holds. A link holds when the step before
 * has ended as it asks; one that asks for any end holds also where the step before is out of reach. A step that can no
 * longer begin is out of reach. The steps that come at the very end begin when nothing else can. The chain ends when
 * nothing runs and nothing can begin. One that is being stopped begins only what comes at the very end; one that somebody
 * holds begins nothing, and does not end.
 *
 * <p>How it ends: <em>failed</em> where a step that matters ended badly and no step that matters and follows it on failure
 * did its work; <em>with warnings</em> where one did, or where a step that matters ended with warnings; otherwise well.
 */
public final class ChainCourse {

    /** What became of a step in this look, with the reason. */
    public record Settled(Step step, StepNow now, String why) {}

    private enum Holds {
        YES,
        NO,
        OPEN
    }

    private record Looked(Holds holds, String why, boolean wrong) {
        private static final Looked YES = new Looked(Holds.YES, "", false);
        private static final Looked OPEN = new Looked(Holds.OPEN, "", false);
    }

    private final List<Step> steps;
    private final Map<String, StepNow> known;
    private final Stop stop;
    private final boolean held;
    private final Conditions conditions;
    private final Map<String, StepNow> now = new HashMap<>();
    private final List<Step> beginning = new ArrayList<>();
    private final List<Settled> settled = new ArrayList<>();

    /**
     * @param steps of the definition
     * @param runs the state of the run of each step that has one
     */
    public ChainCourse(List<Step> steps, Map<String, RunState> runs) {
        this(steps, runs, Stop.NO);
    }

    /** @param stop whether the chain is being stopped */
    public ChainCourse(List<Step> steps, Map<String, RunState> runs, Stop stop) {
        this(steps, places(runs), stop, false, Conditions.NONE);
    }

    /**
     * @param known where each step is of which something has become
     * @param held whether somebody holds the chain
     * @param conditions works out the conditions, as of these results
     */
    public ChainCourse(List<Step> steps, Map<String, StepNow> known, Stop stop, boolean held, Conditions conditions) {
        this(new StepOrder(List.copyOf(steps)), known, stop, held, conditions);
    }

    /** The same with steps that are in order already: a chain is looked at as often as it has steps. */
    public ChainCourse(StepOrder order, Map<String, StepNow> known, Stop stop, boolean held, Conditions conditions) {
        this.steps = order.steps();
        this.known = Map.copyOf(known);
        this.stop = stop;
        this.held = held;
        this.conditions = conditions;
        List<Step> sorted = order.sorted();
        if (sorted.size() < this.steps.size()) {
            throw new IllegalArgumentException("the steps follow one another in a circle");
        }
        sorted.stream().filter(step -> !step.last()).forEach(this::look);
        boolean through = sorted.stream().filter(step -> !step.last()).allMatch(step -> isThrough(now(step)));
        for (Step step : sorted) {
            if (step.last()) {
                if (through || this.known.containsKey(step.name())) {
                    look(step);
                } else {
                    now.put(step.name(), new StepNow(Place.PENDING, RunState.WAITING));
                }
            }
        }
    }

    private static Map<String, StepNow> places(Map<String, RunState> runs) {
        Map<String, StepNow> places = new HashMap<>();
        runs.forEach((name, state) -> places.put(name, StepNow.of(state)));
        return places;
    }

    /** The steps that begin now, each after those that it follows. */
    public List<Step> beginning() {
        return beginning;
    }

    /** The steps that have just been found to be out of reach, or to fail since their condition cannot be worked out. */
    public List<Settled> settled() {
        return settled;
    }

    /** Where a step is now. */
    public Place place(Step step) {
        return now(step).place();
    }

    /** Where a step is now, and in which state. */
    public StepNow now(Step step) {
        return now.get(step.name());
    }

    private boolean isThrough(StepNow step) {
        return step.isSettled() || stop.isAsked() && step.place() == Place.PENDING;
    }

    private void look(Step step) {
        now.put(step.name(), work(step));
    }

    private StepNow work(Step step) {
        StepNow before = known.get(step.name());
        if (before != null) {
            return before;
        }
        StepNow pending = new StepNow(Place.PENDING, RunState.WAITING);
        if (stop.isAsked() && !step.last()) {
            return pending;
        }
        Looked looked = look(step.links(), step.needed());
        if (looked.holds() == Holds.YES && !step.when().isEmpty()) {
            looked = condition(step.when());
        }
        if (looked.wrong()) {
            return settle(step, StepNow.of(RunState.FAILED), "not started: " + looked.why());
        }
        if (looked.holds() == Holds.NO) {
            return settle(step, StepNow.OUT, looked.why());
        }
        if (looked.holds() == Holds.OPEN || held) {
            return pending;
        }
        beginning.add(step);
        return new StepNow(Place.BEGINS, RunState.WAITING);
    }

    private StepNow settle(Step step, StepNow as, String why) {
        settled.add(new Settled(step, as, why));
        return as;
    }

    private Looked look(List<Link> links, int needed) {
        int hold = 0;
        int broken = 0;
        String why = "";
        for (Link link : links) {
            Looked looked = look(link);
            if (looked.wrong()) {
                return looked;
            }
            if (looked.holds() == Holds.YES) {
                hold++;
            } else if (looked.holds() == Holds.NO) {
                why = broken == 0 ? looked.why() : why + ", and " + looked.why();
                broken++;
            }
        }
        if (hold >= needed) {
            return Looked.YES;
        }
        return links.size() - broken < needed ? new Looked(Holds.NO, why, false) : Looked.OPEN;
    }

    private Looked look(Link link) {
        StepNow before = now.get(link.after());
        if (before.place() == Place.OUT_OF_REACH || before.place() == Place.PENDING && stop.isAsked()) {
            return link.on() == FollowsOn.ANY
                    ? Looked.YES
                    : new Looked(Holds.NO, link.after() + " does not run", false);
        }
        if (!before.isEnded()) {
            return Looked.OPEN;
        }
        if (!link.on().follows(before.state())) {
            boolean passive = before.state() == RunState.CANCELLED || before.state() == RunState.SKIPPED;
            return new Looked(
                    Holds.NO,
                    link.after()
                            + (passive ? " was " : " ")
                            + (before.state() == RunState.WARNED
                                    ? "ended with warnings"
                                    : before.state().word().replace('-', ' ')),
                    false);
        }
        return link.when().isEmpty() ? Looked.YES : condition(link.when());
    }

    private Looked condition(String expression) {
        try {
            return conditions.hold(expression)
                    ? Looked.YES
                    : new Looked(Holds.NO, expression + " does not hold", false);
        } catch (ExpressionException e) {
            return new Looked(Holds.NO, e.getMessage(), true);
        }
    }

    /** How the chain ended, or nothing while it goes on. */
    public Optional<Ending> ending() {
        if (held && !stop.isAsked()) {
            return Optional.empty();
        }
        for (Step step : steps) {
            if (!(step.last() ? now(step).isSettled() : isThrough(now(step)))) {
                return Optional.empty();
            }
        }
        if (stop.isAsked()) {
            List<String> late = steps.stream()
                    .filter(Step::last)
                    .filter(this::isBad)
                    .map(this::howBad)
                    .toList();
            return Optional.of(stop.ending(late.isEmpty() ? "" : "; " + Words.list(late)));
        }
        return Optional.of(outcome());
    }

    private Ending outcome() {
        Set<String> seenTo = seenTo();
        var unhandled = new ArrayList<String>();
        var handled = new ArrayList<String>();
        var beside = new ArrayList<String>();
        boolean warned = false;
        for (Step step : steps) {
            if (isBad(step)) {
                (!step.matters() ? beside : seenTo.contains(step.name()) ? handled : unhandled).add(howBad(step));
            }
            warned |= step.matters() && now(step).isEnded() && now(step).state() == RunState.WARNED;
        }
        if (!unhandled.isEmpty()) {
            return new Ending(RunState.FAILED, Words.list(unhandled));
        }
        if (!handled.isEmpty()) {
            return new Ending(RunState.WARNED, Words.list(handled) + ", which a later step saw to");
        }
        if (warned) {
            return new Ending(RunState.WARNED, "a step ended with warnings");
        }
        return new Ending(
                RunState.SUCCEEDED,
                beside.isEmpty()
                        ? "all steps ended well"
                        : "all steps that matter ended well; " + Words.list(beside) + ", which does not matter");
    }

    private boolean isBad(Step step) {
        return now(step).isEnded() && now(step).state().isBad();
    }

    private String howBad(Step step) {
        RunState state = now(step).state();
        return "step " + step.name() + " " + (state == RunState.CANCELLED ? "was " : "") + state.word();
    }

    /** The steps on whose failure a step followed that has done its work. */
    private Set<String> seenTo() {
        var names = new HashSet<String>();
        for (Step step : steps) {
            if (step.matters() && now(step).isEnded() && now(step).state().isGood()) {
                step.links().stream()
                        .filter(link -> link.on() == FollowsOn.FAILURE)
                        .forEach(link -> names.add(link.after()));
            }
        }
        return names;
    }
}
