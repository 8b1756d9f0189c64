package org.gantrel.service.guard;

import java.time.Duration;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;
import org.gantrel.service.refusal.Refusal;

/**
 * Turns of calls with large bodies. What is read from one takes many times its size of memory, so few are looked into at the
 * same time; and since each caller has one of them at most, nobody's keep those of others waiting for long.
 */
final class LargeBodies {

    /** A body of more bytes is large. */
    static final int SMALL = 16_384;

    /** One of more bytes than this is very large: it may take minutes, and the others do not wait behind it. */
    static final int VERY_LARGE = 131_072;

    /** How many are looked into at the same time. */
    private static final int AT_ONCE = 8;

    private static final int VERY_LARGE_AT_ONCE = 2;

    private static final Duration OWN = Duration.ofSeconds(10);
    private static final Duration OTHERS = Duration.ofMinutes(1);

    private final Map<String, Semaphore> callers = new ConcurrentHashMap<>();
    private final Semaphore room = new Semaphore(AT_ONCE, true);
    private final Semaphore roomOfVeryLarge = new Semaphore(VERY_LARGE_AT_ONCE, true);

    Turn turn(String caller) {
        return new Turn(caller);
    }

    /** The turn of one call; nothing is taken where its body is small. */
    final class Turn implements AutoCloseable {
        private final String caller;
        private boolean own;
        private Optional<Semaphore> looked = Optional.empty();

        private Turn(String caller) {
            this.caller = caller;
        }

        /** Waits until its body, which is large, may be looked into. */
        void take(long bytes) {
            // kept for good: there are no more of them than accounts
            Semaphore turns = callers.computeIfAbsent(caller, key -> new Semaphore(1, true));
            own = taken(turns, OWN);
            if (!own) {
                throw Refusal.tooMany("you have a call with a large body under way already; wait for it to end");
            }
            Semaphore all = bytes > VERY_LARGE ? roomOfVeryLarge : room;
            looked = Optional.of(all).filter(each -> taken(each, OTHERS));
            if (looked.isEmpty()) {
                throw Refusal.tooMany("there are large bodies of others before this one", Duration.ofSeconds(10));
            }
        }

        private static boolean taken(Semaphore turns, Duration patience) {
            try {
                return turns.tryAcquire(patience.toMillis(), TimeUnit.MILLISECONDS);
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                return false;
            }
        }

        @Override
        public void close() {
            looked.ifPresent(Semaphore::release);
            if (own) {
                callers.get(caller).release();
            }
        }
    }
}
