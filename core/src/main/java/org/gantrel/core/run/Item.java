package org.gantrel.core.run;

import java.time.Duration;

/**
 * A named result inside a run: one check, one test case.
 *
 * @param state succeeded, warned, failed or skipped
 * @param seen what was seen, or why it failed
 */
public record Item(String name, RunState state, String seen, Duration took) {

    public static Item of(String name, RunState state, String seen) {
        return new Item(name, state, seen, Duration.ZERO);
    }

    /** The same, having taken so long. */
    public Item after(Duration spent) {
        return new Item(name, state, seen, spent);
    }
}
