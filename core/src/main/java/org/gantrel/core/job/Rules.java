package org.gantrel.core.job;

import java.time.Duration;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.gate.Gates;
import org.gantrel.core.run.Limits;
import org.gantrel.core.run.Overlap;
import org.gantrel.core.run.Retry;

/**
 * How runs of a job behave with nobody watching.
 *
 * @param lanes the places that a run takes, by lane
 * @param expect what is told of when it does not come
 * @param priority from 1 to {@value #HIGHEST}; the higher goes first
 */
public record Rules(
        Overlap overlap,
        Map<String, Integer> lanes,
        int priority,
        Gates gates,
        Limits limits,
        Retry retry,
        Expect expect) {

    public static final int USUAL_PRIORITY = 5;
    public static final int HIGHEST = 9;
    public static final Rules NONE =
            new Rules(Overlap.USUAL, Map.of(), USUAL_PRIORITY, Gates.NONE, Limits.NONE, Retry.NEVER, Expect.NOTHING);

    /** The same with other lanes, another priority and other tries. */
    Rules with(Map<String, Integer> otherLanes, int otherPriority, Retry otherRetry) {
        return new Rules(overlap, otherLanes, otherPriority, gates, limits, otherRetry, expect);
    }

    /** The same with another limit over all tries. */
    Rules within(Optional<Duration> total) {
        var others = new Limits(total, limits.stopAt(), limits.patience(), limits.longAfter());
        return new Rules(overlap, lanes, priority, gates, others, retry, expect);
    }

    public Rules {
        lanes = Map.copyOf(lanes);
    }
}
