package org.gantrel.service.time;

import java.time.Duration;
import org.gantrel.service.refusal.Refusal;
import org.slf4j.Logger;

/**
 * Writes the faults of something that goes on after them to the service's own log: each once, not again at every try, so that
 * a night of the same fault fills no disk. Used by one thread.
 */
public final class RepeatedFault {

    private static final Duration SAID_AGAIN = Duration.ofMinutes(10);

    private final Logger log;
    private String last = "";
    private long at;
    private long untold;

    public RepeatedFault(Logger log) {
        this.log = log;
    }

    /**
     * A fault was met.
     *
     * @param who whose it is, such as "the engine"
     */
    public void met(String who, Throwable fault) {
        String now = who + ": " + fault;
        boolean same = now.equals(last) && System.nanoTime() - at < SAID_AGAIN.toNanos();
        if (same) {
            untold++;
            return;
        }
        if (untold > 0) {
            log.error("{}; and {} times more", last, untold);
        }
        last = now;
        at = System.nanoTime();
        untold = 0;
        if (fault instanceof Refusal) {
            // it says all, and where it came up says nothing more
            log.error("{} cannot go on yet: {}", who, fault.getMessage());
        } else {
            log.error("{} met a fault and goes on", who, fault);
        }
    }
}
