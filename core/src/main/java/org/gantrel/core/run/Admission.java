package org.gantrel.core.run;

import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.stream.IntStream;

/**
 * Decides which waiting runs may start now. Pure: it looks at a snapshot and gives a verdict on each run; starting them
 * is the engine's work.
 *
 * <p>Runs are admitted by the time they were planned for. A run that may not start keeps its place and is told why.
 *
 * @param width how many commands the whole service runs at once
 */
public record Admission(int width) {

    /** A run that waits for its place. */
    public record WaitingRun(long number, Instant plannedAt) {
        static final Comparator<WaitingRun> IN_ORDER =
                Comparator.comparing(WaitingRun::plannedAt).thenComparing(WaitingRun::number);
    }

    /** What becomes of a waiting run: it starts, or it waits for what is said. */
    public record Verdict(long number, boolean starts, String waitingFor) {}

    /**
     * How many more commands may start.
     *
     * @param running how many commands run already
     */
    public int free(int running) {
        return Math.max(0, width - running);
    }

    /**
     * The verdicts, in the order of admission.
     *
     * @param running how many commands run already
     */
    public List<Verdict> decide(List<WaitingRun> waiting, int running) {
        int free = free(running);
        List<WaitingRun> ordered = waiting.stream().sorted(WaitingRun.IN_ORDER).toList();
        return IntStream.range(0, ordered.size())
                .mapToObj(place -> place < free
                        ? new Verdict(ordered.get(place).number(), true, "")
                        : new Verdict(
                                ordered.get(place).number(),
                                false,
                                "a free place: %d of %d commands are running".formatted(width, width)))
                .toList();
    }
}
