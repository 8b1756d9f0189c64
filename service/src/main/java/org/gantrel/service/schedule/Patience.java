package org.gantrel.service.schedule;

import java.time.Duration;
import java.util.function.BooleanSupplier;

/** How long somebody waits for an answer about many schedules. */
final class Patience {

    private Patience() {}

    /** Tells when so much time has passed: what looks at many schedules keeps nobody waiting for long. */
    static BooleanSupplier lateAfter(Duration patience) {
        long begin = System.nanoTime();
        return () -> System.nanoTime() - begin > patience.toNanos();
    }
}
