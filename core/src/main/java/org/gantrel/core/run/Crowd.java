package org.gantrel.core.run;

import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.stream.Collectors;

/**
 * The runs of a job that count together: all of them, or those with the same values of some parameters.
 *
 * @param job empty where a run counts with no other
 * @param values by parameter, in the order in which they are told; empty where all runs of the job count together
 */
public record Crowd(String job, Map<String, String> values) {

    /** That of a run which counts with no other. */
    public static final Crowd NONE = new Crowd("", Map.of());

    public Crowd {
        values = values.isEmpty() ? Map.of() : Collections.unmodifiableMap(new LinkedHashMap<>(values));
    }

    /** All runs of a job. */
    public static Crowd of(String job) {
        return new Crowd(job, Map.of());
    }

    public boolean isNone() {
        return job.isEmpty();
    }

    /**
     * Whether two runs count together. Those of different revisions may be told apart by different parameters: then what
     * both have decides, and where they have none in common, they do. So no change of a job lets two runs go beside each
     * other of which one is to be alone.
     */
    public boolean meets(Crowd other) {
        return !isNone()
                && job.equals(other.job)
                && values.entrySet().stream().allMatch(each -> each.getValue()
                        .equals(other.values.getOrDefault(each.getKey(), each.getValue())));
    }

    /** In words. */
    public String text() {
        return values.isEmpty()
                ? job
                : values.entrySet().stream()
                        .map(each -> each.getKey() + " " + each.getValue())
                        .collect(Collectors.joining(", ", job + " with ", ""));
    }
}
