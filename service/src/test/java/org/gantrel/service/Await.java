package org.gantrel.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.locks.LockSupport;
import java.util.function.BooleanSupplier;

/** Waits for conditions, and leaves the machine to those that are to bring them about. */
public final class Await {

    /** A busy machine may take long, and to wait costs nothing where all is well. */
    public static final Duration PATIENCE = Duration.ofMinutes(10);

    private static final long LONG = TimeUnit.SECONDS.toNanos(60);
    private static final long PAUSE = TimeUnit.MILLISECONDS.toNanos(180);

    private Await() {}

    public static void until(String what, BooleanSupplier condition) {
        long begin = System.nanoTime();
        boolean said = false;
        while (!condition.getAsBoolean()) {
            long waited = System.nanoTime() - begin;
            assertThat(waited).as(what).isLessThan(PATIENCE.toNanos());
            if (!said && waited > LONG) {
                said = true;
                System.out.println("waiting for long until " + what);
            }
            LockSupport.parkNanos(PAUSE);
        }
    }
}
