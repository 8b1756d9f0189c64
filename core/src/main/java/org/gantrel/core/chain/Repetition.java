package org.gantrel.core.chain;

import java.time.Instant;
import org.gantrel.core.expression.ExpressionException;
import org.gantrel.core.job.Step.Until;
import org.gantrel.core.run.RunState;
import org.gantrel.core.text.Words;

/** Whether a step is done again whose result is to become as it should be. */
public sealed interface Repetition {

    /** Its result is as it should be, or it failed: it has ended with its run. */
    record Done() implements Repetition {}

    /** It is done again at a time. */
    record Again(Instant at) implements Repetition {}

    /** It is not done again, and failed. */
    record GivesUp(String why) implements Repetition {}

    /**
     * Decides.
     *
     * @param state how its last run ended; one that ended badly is not done again: that is what retries are for
     * @param turns how often it was done
     * @param began when it was done first
     * @param conditions works out the condition with the last result
     */
    static Repetition of(Until until, RunState state, int turns, Instant began, Instant now, Conditions conditions) {
        if (!state.isGood()) {
            return new Done();
        }
        try {
            if (conditions.hold(until.holds())) {
                return new Done();
            }
        } catch (ExpressionException e) {
            return new GivesUp(e.getMessage());
        }
        if (turns >= until.times()) {
            return new GivesUp("after " + until.times() + " times " + until.holds() + " still does not hold");
        }
        Instant next = now.plus(until.every());
        boolean late = StepNow.isOver(until.within().map(began::plus), next);
        return late
                ? new GivesUp("after " + Words.duration(until.within().orElseThrow()) + " " + until.holds()
                        + " still does not hold")
                : new Again(next);
    }
}
