package org.gantrel.acceptance;

import java.time.Duration;
import java.time.Instant;
import java.util.function.Supplier;

/** Waits for conditions, and fails with a sentence where one does not come true. */
final class Await {

    /** A busy machine may take long, and to wait costs nothing where all is well. How long things take is measured elsewhere. */
    static final Duration PATIENCE = Duration.ofMinutes(10);

    private static final Duration LONG = Duration.ofMinutes(1);

    private Await() {}

    static void until(String what, Supplier<Boolean> condition) {
        Instant begin = Instant.now();
        boolean said = false;
        while (!condition.get()) {
            Duration waited = Duration.between(begin, Instant.now());
            if (!said && waited.compareTo(LONG) > 0) {
                said = true;
                System.out.println("waiting for long until " + what);
            }
            if (waited.compareTo(PATIENCE) > 0) {
                throw new AssertionError("waited " + PATIENCE.toSeconds() + " s in vain until " + what);
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
