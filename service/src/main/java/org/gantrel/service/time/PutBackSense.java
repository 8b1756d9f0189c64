package org.gantrel.service.time;

import java.time.Duration;
import java.time.Instant;
import java.util.Optional;

/**
 * Notices from one look at the clock to the next that it was put back, for who has planned by it and has to plan anew. Each
 * has its own, used by one thread.
 */
public final class PutBackSense {

    /** Clocks are put right by a little again and again. */
    private static final Duration LITTLE = Duration.ofSeconds(2);

    private Instant last;

    /** @param last when it was looked at before: by the service that was there before this one, or never */
    public PutBackSense(Instant last) {
        this.last = last;
    }

    /** How far it was put back since the last look; nothing where it was not, or by a little only. */
    public Optional<Duration> look(Instant now) {
        Optional<Duration> by =
                now.plus(LITTLE).isBefore(last) ? Optional.of(Duration.between(now, last)) : Optional.empty();
        last = now;
        return by;
    }
}
