package org.gantrel.core.chain;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.job.Step;
import org.gantrel.core.job.Step.FollowsOn;
import org.gantrel.core.run.Ending;
import org.gantrel.core.run.RunState;
import org.gantrel.core.text.Words;

/**
 * Decides how a chain goes on. Pure: given its steps and the states of the runs that they have so far, it names the
 * steps that begin now, or says that the chain has ended and how.
 *
 * <p>A step begins when every step it follows has ended as it asks. A step whose condition can no longer come true is
 * out of reach, and so is what follows it on success or on failure. The chain ends when nothing runs and nothing can
 * begin.
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

    /**
     * @param steps in the order of the definition, each after those that it follows
     * @param runs the state of the run of each step that has one
     */
    public ChainCourse(List<Step> steps, Map<String, RunState> runs) {
        this.steps = List.copyOf(steps);
        this.runs = Map.copyOf(runs);
    }

    /** The steps that begin now. */
    public List<Step> beginning() {
        return steps.stream().filter(step -> place(step) == Place.BEGINS).toList();
    }

    /** How the chain ended, or nothing while it goes on. */
    public Optional<Ending> ending() {
        for (Step step : steps) {
            Place place = place(step);
            if (place != Place.ENDED && place != Place.OUT_OF_REACH) {
                return Optional.empty();
            }
        }
        List<String> unhandled = badSteps(false);
        if (!unhandled.isEmpty()) {
            return Optional.of(new Ending(RunState.FAILED, Words.list(unhandled)));
        }
        List<String> handled = badSteps(true);
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
        RunState state = runs.get(step.name());
        if (state != null) {
            return state.isEnded() ? Place.ENDED : Place.UNDER_WAY;
        }
        boolean pending = false;
        for (String name : step.after()) {
            Step before = named(name);
            Place place = place(before);
            if (place == Place.OUT_OF_REACH && step.on() != FollowsOn.ANY) {
                return Place.OUT_OF_REACH;
            }
            if (place == Place.ENDED && !follows(step.on(), runs.get(name))) {
                return Place.OUT_OF_REACH;
            }
            pending |= place != Place.ENDED && place != Place.OUT_OF_REACH;
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

    private List<String> badSteps(boolean handled) {
        var names = new ArrayList<String>();
        for (Step step : steps) {
            RunState state = runs.get(step.name());
            if (state != null && state.isBad() && isHandled(step) == handled) {
                names.add("step " + step.name() + " " + (state == RunState.CANCELLED ? "was " : "") + state.word());
            }
        }
        return names;
    }

    /** Whether a step that follows on failure has done its work. */
    private boolean isHandled(Step failed) {
        return steps.stream()
                .filter(step -> step.on() == FollowsOn.FAILURE && step.after().contains(failed.name()))
                .map(step -> runs.get(step.name()))
                .anyMatch(state -> state != null && state.isGood());
    }

    private Step named(String name) {
        return steps.stream()
                .filter(step -> step.name().equals(name))
                .findFirst()
                .orElseThrow();
    }
}
