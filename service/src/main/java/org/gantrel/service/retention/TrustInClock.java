package org.gantrel.service.retention;

import java.time.Duration;
import java.time.Instant;
import java.util.function.Supplier;
import org.gantrel.core.text.Words;
import org.gantrel.service.time.Presence;
import org.gantrel.service.time.Stopwatch;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;

/**
 * Whether the clock may be believed by those who let go of what is old: nobody gives that back when the clock is put right.
 * One that is many days ahead at once, or was when the service came up, is believed a day later. Used by one thread.
 */
@Component
class TrustInClock {

    private static final Logger LOG = LoggerFactory.getLogger(TrustInClock.class);
    private static final Duration LEAP = Duration.ofDays(7);
    private static final Duration DOUBTED = Duration.ofDays(1);

    private final Stopwatch watch;
    private Instant before;
    private Supplier<Duration> sinceBefore;
    private Supplier<Duration> sinceLeap = () -> DOUBTED;

    TrustInClock(Presence presence, Stopwatch watch) {
        this.watch = watch;
        this.before = presence.absence().from();
        this.sinceBefore = watch.begin();
    }

    boolean isTrusted(Instant now) {
        Duration leap = Duration.between(before, now).minus(sinceBefore.get());
        before = now;
        sinceBefore = watch.begin();
        if (leap.compareTo(LEAP) > 0) {
            LOG.warn("the clock is {} further than it was; what is old is let go in a day", Words.duration(leap));
            sinceLeap = watch.begin();
        }
        return sinceLeap.get().compareTo(DOUBTED) >= 0;
    }
}
