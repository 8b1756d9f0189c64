package org.gantrel.service.run;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.run.Ending;
import org.gantrel.core.run.Item;

/** The end of a run with all that is written down with it. */
public record Finish(Ending ending, Optional<Integer> exitCode, List<Item> items, Map<String, String> results) {

    public static Finish of(Ending ending) {
        return new Finish(ending, Optional.empty(), List.of(), Map.of());
    }
}
