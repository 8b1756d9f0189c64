package org.gantrel.core.trigger;

import java.time.Duration;
import org.gantrel.core.text.Words;

/**
 * How often a trigger may start its job.
 *
 * @param starts at most so many
 * @param in in any span of this length
 * @param gathers whether the rest comes together in one start afterwards; else it is dropped
 */
public record Limit(int starts, Duration in, boolean gathers) {

    /** The longest span that a limit may have. */
    public static final Duration LONGEST = Duration.ofDays(30);

    public static final int MOST_STARTS = 1_000;

    public String words() {
        return "at most " + starts + " in " + Words.duration(in) + ", the rest "
                + (gathers ? "gathered into one" : "dropped");
    }
}
