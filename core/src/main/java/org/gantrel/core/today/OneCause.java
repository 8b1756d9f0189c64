package org.gantrel.core.today;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.gantrel.core.run.RunState;

/**
 * Puts together what ended badly for one and the same cause, so that it is looked at once: what an outage missed, and a
 * chain with the job that failed in it.
 */
public final class OneCause {

    /**
     * A run that ended badly.
     *
     * @param failedSteps the jobs that failed in it, of a chain
     */
    public record Bad(long run, String job, RunState state, String message, Set<String> failedSteps) {}

    private OneCause() {}

    /** The runs in groups of one cause each, the cause first; groups and their members in the order that was given. */
    public static List<List<Bad>> group(List<Bad> runs) {
        Map<Object, List<Bad>> groups = new LinkedHashMap<>();
        for (Bad bad : runs) {
            groups.computeIfAbsent(causeOf(bad, runs, runs.size()), cause -> new ArrayList<>())
                    .add(bad);
        }
        groups.forEach((cause, members) -> members.stream()
                .filter(bad -> cause.equals(bad.run()))
                .findFirst()
                .ifPresent(first -> {
                    members.remove(first);
                    members.add(0, first);
                }));
        return List.copyOf(groups.values());
    }

    /** What a run is put together by: the outage that missed it, or the run that is its cause. */
    private static Object causeOf(Bad bad, List<Bad> all, int left) {
        if (bad.state() == RunState.MISSED && !bad.message().isEmpty()) {
            return bad.message();
        }
        return all.stream()
                .filter(other -> other != bad && bad.failedSteps().contains(other.job()))
                .findFirst()
                .filter(other -> left > 0)
                .map(other -> causeOf(other, all, left - 1))
                .orElse(bad.run());
    }
}
