package org.gantrel.service.time;

import org.springframework.stereotype.Component;

/** A watch that only goes forward, for how long something lasts: the clock may be put back or forward meanwhile. */
@Component
public class Stopwatch {

    /** Nanoseconds since some moment; only differences mean something. */
    public long nanos() {
        return System.nanoTime();
    }
}
