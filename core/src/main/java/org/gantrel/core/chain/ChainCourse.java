package org.gantrel.core.chain;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.gantrel.core.job.Step;
import org.gantrel.core.job.Step.FollowsOn;
import org.gantrel.core.run.Ending;
import org.gantrel.core.run.RunState;
import org.gantrel.core.run.RunStatus.Stop;
import org.gantrel.core.text.Words;

/**
 * Decides how a chain goes on. Pure: given its steps and the states of the runs that they have so far, it names the
 * steps that begin now, or says that the chain has ended and how. Each step and each link is looked at once.
 *
 * <p>A step begins when every step it follows has ended as it asks. A step whose condition can no longer come true is
 * out of reach, and so is what follows it on success or on failure. The chain ends when nothing runs and nothing can
 * begin. One that is being stopped begins nothing, and ends with the last of its steps.
 */
public final class ChainCourse {

    /** What becomes of a step. */
    public enum Place {
        PENDING,
        BEGINS,
        UNDER_WAY,
        ENDED,
        OUT_OF_REACH
    }

    private final List<Step> steps;
    private final Map<String, RunState> runs;
    private final Stop stop;
    private final Map<String, Place> places = new HashMap<>();

    /**
     * @param steps in the order of the definition, each after those that it follows
     * @param runs the state of the run of each step that has one
     */
    public ChainCourse(List<Step> steps, Map<String, RunState> runs) {
        this(steps, runs, Stop.NO);
    }

    /** @param stop whether the chain is being stopped */
    public ChainCourse(List<Step> steps, Map<String, RunState> runs, Stop stop) {
        this.steps = List.copyOf(steps);
        this.runs = Map.copyOf(runs);
        this.stop = stop;
        for (Step step : this.steps) {
            places.put(step.name(), work(step));
        }
    }

    /** The steps that begin now. */
    public List<Step> beginning() {
        return stop.isAsked()
                ? List.of()
                : steps.stream().filter(step -> place(step) == Place.BEGINS).toList();
    }

    /** How the chain ended, or nothing while it goes on. */
    public Optional<Ending> ending() {
        if (stop.isAsked()) {
            return runs.values().stream().allMatch(RunState::isEnded)
                    ? Optional.of(new Ending(RunState.CANCELLED, "cancelled by " + stop.by()))
                    : Optional.empty();
        }
        for (Place place : places.values()) {
            if (place != Place.ENDED && place != Place.OUT_OF_REACH) {
                return Optional.empty();
            }
        }
        Set<String> seenTo = seenTo();
        List<String> unhandled = badSteps(seenTo, false);
        if (!unhandled.isEmpty()) {
            return Optional.of(new Ending(RunState.FAILED, Words.list(unhandled)));
        }
        List<String> handled = badSteps(seenTo, true);
        if (!handled.isEmpty()) {
            return Optional.of(new Ending(RunState.WARNED, Words.list(handled) + ", which a later step saw to"));
        }
        boolean warned = runs.containsValue(RunState.WARNED);
        return Optional.of(
                warned
                        ? new Ending(RunState.WARNED, "a step ended with warnings")
                        : new Ending(RunState.SUCCEEDED, "all steps ended well"));
    }

    /** What becomes of one step. */
    public Place place(Step step) {
        return places.get(step.name());
    }

    private Place work(Step step) {
        RunState state = runs.get(step.name());
        if (state != null) {
            return state.isEnded() ? Place.ENDED : Place.UNDER_WAY;
        }
        boolean pending = false;
        for (String name : step.after()) {
            Place before = places.get(name);
            if (before == null) {
                throw new IllegalArgumentException("the step " + step.name() + " comes before " + name);
            }
            if (before == Place.OUT_OF_REACH && step.on() != FollowsOn.ANY) {
                return Place.OUT_OF_REACH;
            }
            if (before == Place.ENDED && !follows(step.on(), runs.get(name))) {
                return Place.OUT_OF_REACH;
            }
            pending |= before != Place.ENDED && before != Place.OUT_OF_REACH;
        }
        return pending ? Place.PENDING : Place.BEGINS;
    }

    private static boolean follows(FollowsOn on, RunState state) {
        return switch (on) {
            case SUCCESS -> state.isGood() || state == RunState.SKIPPED;
            case FAILURE -> state.isBad();
            case ANY -> true;
        };
    }

    private List<String> badSteps(Set<String> seenTo, boolean handled) {
        var names = new ArrayList<String>();
        for (Step step : steps) {
            RunState state = runs.get(step.name());
            if (state != null && state.isBad() && seenTo.contains(step.name()) == handled) {
                names.add("step " + step.name() + " " + (state == RunState.CANCELLED ? "was " : "") + state.word());
            }
        }
        return names;
    }

    /** The steps on whose failure a step followed that has done its work. */
    private Set<String> seenTo() {
        var names = new HashSet<String>();
        for (Step step : steps) {
            RunState state = runs.get(step.name());
            if (step.on() == FollowsOn.FAILURE && state != null && state.isGood()) {
                names.addAll(step.after());
            }
        }
        return names;
    }
}
