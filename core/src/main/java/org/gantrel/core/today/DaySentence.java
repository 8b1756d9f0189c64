package org.gantrel.core.today;

import java.time.LocalTime;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.gantrel.core.run.RunState;
import org.gantrel.core.text.Words;

/** Says in one sentence how the day goes. */
public final class DaySentence {

    /** Nobody counts further. */
    public static final int MOST_COMING = 20_000;

    private DaySentence() {}

    /**
     * The sentence.
     *
     * @param counts how many runs of the day are in each state
     * @param coming how many more starts the schedules have before midnight, counted up to {@link #MOST_COMING}
     */
    public static String of(Map<RunState, Long> counts, long coming) {
        return of(counts, coming, "so far today");
    }

    /**
     * The sentence of a day that begins with its night.
     *
     * @param since the time of yesterday from which on runs are counted
     */
    public static String of(Map<RunState, Long> counts, long coming, LocalTime since) {
        return of(counts, coming, "since yesterday " + since.truncatedTo(ChronoUnit.MINUTES));
    }

    private static String of(Map<RunState, Long> counts, long coming, String span) {
        long all = counts.values().stream().mapToLong(Long::longValue).sum();
        String ahead = coming == 0
                ? "Nothing more is planned before midnight."
                : coming + (coming < MOST_COMING ? "" : " or even") + " more before midnight.";
        if (all == 0) {
            return "No runs " + span + ". " + ahead;
        }
        var parts = new ArrayList<String>();
        parts.add(count(counts, RunState.SUCCEEDED) + " fine");
        add(parts, counts, RunState.WARNED, "with warnings");
        add(parts, counts, RunState.FAILED, "failed");
        add(parts, counts, RunState.TIMED_OUT, "timed out");
        add(parts, counts, RunState.MISSED, "missed");
        add(parts, counts, RunState.CANCELLED, "cancelled");
        add(parts, counts, RunState.SKIPPED, "skipped");
        add(parts, counts, RunState.RUNNING, "running");
        add(parts, counts, RunState.WAITING, "waiting");
        return Words.count(all, "run") + " " + span + ": " + String.join(", ", parts) + ". " + ahead;
    }

    private static void add(List<String> parts, Map<RunState, Long> counts, RunState state, String words) {
        if (count(counts, state) > 0) {
            parts.add(count(counts, state) + " " + words);
        }
    }

    private static long count(Map<RunState, Long> counts, RunState state) {
        return counts.getOrDefault(state, 0L);
    }
}
