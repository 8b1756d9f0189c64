package org.gantrel.service.engine;

import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.run.Effect;
import org.gantrel.service.run.Moved;
import org.springframework.stereotype.Component;

/**
 * When the windows of runs that are under way end, by the clock and not by a watch: a clock that is set, or a machine that
 * slept, moves these ends. Used by the engine's thread alone.
 */
@Component
class Windows {

    private final Map<Long, Instant> ends = new HashMap<>();

    /** Takes in what follows from a move. */
    void act(Moved moved) {
        for (Effect effect : moved.effects()) {
            if (effect instanceof Effect.WatchClock watch) {
                lookAt(moved.run().number(), watch.at());
            }
        }
    }

    void lookAt(long number, Instant at) {
        ends.put(number, at);
    }

    /** Names those whose window is over, each once. */
    List<Long> due(Instant now) {
        List<Long> due = ends.entrySet().stream()
                .filter(each -> !each.getValue().isAfter(now))
                .map(Map.Entry::getKey)
                .toList();
        due.forEach(ends::remove);
        return due;
    }

    Optional<Instant> next() {
        return ends.values().stream().min(Instant::compareTo);
    }

    void ended(long number) {
        ends.remove(number);
    }
}
