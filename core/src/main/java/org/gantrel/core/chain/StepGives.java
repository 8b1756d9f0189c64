package org.gantrel.core.chain;

import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.expression.StepFacts.Shape;
import org.gantrel.core.expression.ValueKind;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Step;
import org.gantrel.core.sweep.Sums;

/** What is known of a step's results by the job that it runs, once or for each row of a roster. */
public final class StepGives {

    private StepGives() {}

    /** What the declared ones are. */
    public static Map<String, ValueKind> kinds(Step step, Job job) {
        if (!step.over().isEmpty()) {
            return Sums.kinds(job.gives());
        }
        Map<String, ValueKind> kinds = new HashMap<>();
        job.gives().forEach((name, type) -> kinds.put(name, type.kind()));
        return kinds;
    }

    /** What there will be; a job that declares nothing may give anything. */
    public static Shape shape(Step step, Optional<Job> job) {
        return job.filter(each -> !each.gives().isEmpty())
                .map(each -> new Shape(Optional.of(kinds(step, each))))
                .orElse(Shape.ANY);
    }
}
