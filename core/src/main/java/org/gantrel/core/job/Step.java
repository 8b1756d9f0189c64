package org.gantrel.core.job;

import java.util.List;
import java.util.Locale;
import java.util.Map;

/**
 * A job in a chain.
 *
 * @param name unique within the chain
 * @param job the job that it runs
 * @param after the steps that must have ended before; none for a step that begins at once
 * @param on the end of those steps on which this one follows
 * @param with values for the job's parameters; they may hold expressions over the chain's own
 */
public record Step(String name, String job, List<String> after, FollowsOn on, Map<String, String> with) {

    /** The end of the steps before on which a step follows. */
    public enum FollowsOn {
        SUCCESS,
        FAILURE,
        ANY;

        public String word() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    public Step {
        after = List.copyOf(after);
        with = Map.copyOf(with);
    }
}
