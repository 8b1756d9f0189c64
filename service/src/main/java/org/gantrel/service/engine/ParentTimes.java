package org.gantrel.service.engine;

import java.time.Duration;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.run.Effect;
import org.gantrel.service.run.Moved;
import org.gantrel.service.time.Stopwatch;
import org.springframework.stereotype.Component;

/**
 * When chains and sweeps are to be looked at that have a limit, on a watch that does not jump. Used by the engine's thread
 * alone.
 */
@Component
class ParentTimes {

    private final Stopwatch watch;
    private final Map<Long, Long> lookAt = new HashMap<>();

    ParentTimes(Stopwatch watch) {
        this.watch = watch;
    }

    /** Takes in what follows from a move of a chain or a sweep. */
    void act(Moved moved) {
        for (Effect effect : moved.effects()) {
            if (effect instanceof Effect.LookAgain look) {
                lookAgain(moved.run().number(), look.after());
            }
        }
    }

    void lookAgain(long number, Duration after) {
        lookAt.put(number, watch.nanos() + after.toNanos());
    }

    /** Names those whose moment has come, each once. */
    List<Long> due() {
        long now = watch.nanos();
        var due = new ArrayList<Long>();
        lookAt.forEach((number, at) -> {
            if (at <= now) {
                due.add(number);
            }
        });
        due.forEach(lookAt::remove);
        return due;
    }

    Optional<Duration> next() {
        return lookAt.values().stream().min(Long::compare).map(at -> Duration.ofNanos(Math.max(0, at - watch.nanos())));
    }

    void ended(long number) {
        lookAt.remove(number);
    }
}
