package org.gantrel.acceptance;

import java.time.Duration;
import java.time.Instant;
import java.util.function.Supplier;

/** Waits for conditions, and fails with a sentence where one does not come true. */
final class Await {

    private static final Duration PATIENCE = Duration.ofSeconds(240);

    private Await() {}

    static void until(String what, Supplier<Boolean> condition) {
        until(what, PATIENCE, condition);
    }

    static void until(String what, Duration patience, Supplier<Boolean> condition) {
        Instant end = Instant.now().plus(patience);
        while (!condition.get()) {
            if (Instant.now().isAfter(end)) {
                throw new AssertionError("waited " + patience.toSeconds() + " s in vain until " + what);
            }
            pause();
        }
    }

    private static void pause() {
        try {
            Thread.sleep(50);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new AssertionError("interrupted", e);
        }
    }
}
