package org.gantrel.service.time;

import java.time.Duration;
import java.util.function.Supplier;
import org.springframework.stereotype.Component;

/** A watch that only goes forward, for how long something lasts: the clock may be put back or forward meanwhile. */
@Component
public class Stopwatch {

    /** Nanoseconds since some moment; only differences mean something. */
    public long nanos() {
        return System.nanoTime();
    }

    /** Begins to measure. @return says how long that is ago */
    public Supplier<Duration> begin() {
        long from = nanos();
        return () -> Duration.ofNanos(nanos() - from);
    }
}
