package org.gantrel.service.execution;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.run.Ending;
import org.gantrel.core.run.Item;
import org.gantrel.core.run.OutcomeRule.Evidence;
import org.gantrel.core.run.RunState;

/**
 * What a task left behind.
 *
 * @param ending how it ended, where that is known already; otherwise the exit code and the evidence tell
 * @param results the values that it gave
 * @param lost why outputs could not be kept; empty where nothing is missing
 * @param untold whether it was over before anybody could tell it to stop
 */
public record TaskResult(
        Optional<Ending> ending,
        Evidence evidence,
        List<Item> items,
        Map<String, String> results,
        String lost,
        boolean untold) {

    /** Nothing at all. */
    public static final TaskResult NOTHING =
            new TaskResult(Optional.empty(), Evidence.NONE, List.of(), Map.of(), "", false);

    /** An end that only a message explains. */
    public static TaskResult failed(String message) {
        return ended(new Ending(RunState.FAILED, message), List.of(), Map.of());
    }

    /** The same, and one thing more that could not be kept. */
    public TaskResult without(String more) {
        return new TaskResult(ending, evidence, items, results, lost.isEmpty() ? more : lost + "; " + more, untold);
    }

    /** The same, over before anybody could tell it to stop. */
    public TaskResult beforeToldToStop() {
        return new TaskResult(ending, evidence, items, results, lost, true);
    }

    /** The same with values beside those that it gave, which go before. */
    TaskResult with(Map<String, String> told) {
        if (told.isEmpty()) {
            return this;
        }
        var all = new LinkedHashMap<>(told);
        all.putAll(results);
        return new TaskResult(ending, evidence, items, all, lost, untold);
    }

    /** The end of work in this process. */
    public static TaskResult ended(Ending ending, List<Item> items, Map<String, String> results) {
        return new TaskResult(Optional.of(ending), Evidence.NONE, items, results, "", false);
    }
}
