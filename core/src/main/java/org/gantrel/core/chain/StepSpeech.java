package org.gantrel.core.chain;

import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import org.gantrel.core.expression.ExpressionException;
import org.gantrel.core.expression.StepFacts;
import org.gantrel.core.expression.Template;
import org.gantrel.core.job.Step;
import org.gantrel.core.job.Step.Link;

/** All that a step says in expressions. */
public final class StepSpeech {

    private StepSpeech() {}

    /**
     * One text.
     *
     * @param field where it stands in the step
     * @param condition whether it is a condition by itself, without {@code ${}}
     * @param ofItself whether it may speak of the step's own result
     */
    public record Said(String field, String text, boolean condition, boolean ofItself) {

        /**
         * Checks it.
         *
         * @throws ExpressionException where it speaks of what is not known, or types do not fit
         */
        public void check(Collection<String> names, StepFacts.Shapes steps) {
            if (condition) {
                if (text.contains("${")) {
                    throw new ExpressionException("'" + text + "': a condition is written without ${ and }");
                }
                Template.checkCondition(text, names, steps);
            } else {
                Template.of(text).check(names, steps);
            }
        }

        /** The names in it that could be those of steps. */
        public List<String> aliases() {
            try {
                return condition
                        ? StepFacts.aliases(text)
                        : Template.of(text).expressions().stream()
                                .flatMap(expression -> StepFacts.aliases(expression).stream())
                                .distinct()
                                .toList();
            } catch (ExpressionException e) {
                return List.of();
            }
        }
    }

    /** All texts of a step that may hold expressions. */
    public static List<Said> of(Step step) {
        var said = new ArrayList<Said>();
        step.with().forEach((name, text) -> said.add(new Said("with", text, false, false)));
        if (!step.when().isEmpty()) {
            said.add(new Said("when", step.when(), true, false));
        }
        for (Link link : step.links()) {
            if (!link.when().isEmpty()) {
                said.add(new Said("after", link.when(), true, false));
            }
        }
        step.until().ifPresent(until -> said.add(new Said("repeat", until.holds(), true, true)));
        if (step.work() instanceof Step.Approval approval) {
            said.add(new Said("approval", approval.asks(), false, false));
        }
        if (step.work() instanceof Step.Meeting meeting) {
            said.add(new Said("of", meeting.of(), false, false));
        }
        return said;
    }
}
