package org.gantrel.core.chain;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.job.Step;

/** The steps that a chain's length came from: had any of them been quicker, the chain would have been. */
public final class CriticalPath {

    /** When a step began, and when it ended. */
    public record Span(Instant from, Instant until) {}

    private CriticalPath() {}

    /**
     * The names of the steps on it, the first one first: from the step that ended last, back each time to that of the
     * steps before which ended last.
     *
     * @param spans of the steps that ran
     */
    public static List<String> of(List<Step> steps, Map<String, Span> spans) {
        Map<String, Step> byName = new HashMap<>();
        steps.forEach(step -> byName.put(step.name(), step));
        var path = new ArrayList<String>();
        List<Step> sorted = new StepOrder(steps).sorted();
        Optional<Step> at = sorted.stream()
                .filter(step -> !step.goesOn() && spans.containsKey(step.name()))
                // of those that ended at the same moment the one that others led to
                .max(Comparator.<Step, Instant>comparing(
                                step -> spans.get(step.name()).until())
                        .thenComparing(sorted::indexOf));
        while (at.isPresent()) {
            path.add(at.get().name());
            at = waitedFor(at.get(), steps, spans).map(byName::get);
        }
        Collections.reverse(path);
        return path;
    }

    /** The step whose end a step began upon; nothing for one that began at once. */
    public static Optional<String> waitedFor(Step step, List<Step> steps, Map<String, Span> spans) {
        List<String> before = step.links().isEmpty() && step.last()
                ? steps.stream().filter(other -> !other.last()).map(Step::name).toList()
                : step.after();
        Instant began = spans.get(step.name()).from();
        return before.stream()
                .filter(spans::containsKey)
                .filter(name -> !spans.get(name).until().isAfter(began))
                .max(Comparator.comparing(name -> spans.get(name).until()));
    }
}
