package org.gantrel.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.concurrent.TimeUnit;
import java.util.concurrent.locks.LockSupport;
import java.util.function.BooleanSupplier;

/** Waits for conditions, and leaves the machine to those that are to bring them about. */
public final class Await {

    private static final long PATIENCE = TimeUnit.SECONDS.toNanos(180);
    private static final long PAUSE = TimeUnit.MILLISECONDS.toNanos(180);

    private Await() {}

    public static void until(String what, BooleanSupplier condition) {
        long deadline = System.nanoTime() + PATIENCE;
        while (!condition.getAsBoolean()) {
            assertThat(deadline - System.nanoTime()).as(what).isPositive();
            LockSupport.parkNanos(PAUSE);
        }
    }
}
