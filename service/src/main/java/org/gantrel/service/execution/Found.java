package org.gantrel.service.execution;

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
 */
public record Found(
        Optional<Ending> ending, Evidence evidence, List<Item> items, Map<String, String> results, String lost) {

    /** Nothing at all. */
    public static final Found NOTHING = new Found(Optional.empty(), Evidence.NONE, List.of(), Map.of(), "");

    /** An end that only a message explains. */
    public static Found failed(String message) {
        return ended(new Ending(RunState.FAILED, message), List.of(), Map.of());
    }

    /** The same, and one thing more that could not be kept. */
    public Found without(String more) {
        return new Found(ending, evidence, items, results, lost.isEmpty() ? more : lost + "; " + more);
    }

    /** The end of work in this process. */
    public static Found ended(Ending ending, List<Item> items, Map<String, String> results) {
        return new Found(Optional.of(ending), Evidence.NONE, items, results, "");
    }
}
