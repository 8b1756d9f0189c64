package org.gantrel.service.run;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.run.Ending;
import org.gantrel.core.run.Item;

/**
 * The end of a run's work with all that is written down with it.
 *
 * @param doubt what is not known of the end; empty where all is known
 * @param untold whether it was over before anybody could tell it to stop
 */
public record Finish(
        Ending ending,
        String doubt,
        Optional<Integer> exitCode,
        List<Item> items,
        Map<String, String> results,
        boolean untold) {

    /** An end of which all is known. */
    public Finish(Ending ending, Optional<Integer> exitCode, List<Item> items, Map<String, String> results) {
        this(ending, "", exitCode, items, results, false);
    }

    /** An end that only a message explains. */
    public static Finish of(Ending ending) {
        return new Finish(ending, Optional.empty(), List.of(), Map.of());
    }

    /** The same with nothing but the end: what else was left cannot be written down. */
    public Finish bare(String why) {
        return new Finish(
                new Ending(ending.state(), ending.message() + "; " + why),
                doubt,
                exitCode,
                List.of(),
                Map.of(),
                untold);
    }
}
