package org.gantrel.core.notification;

import java.time.Duration;
import java.time.Instant;
import java.util.List;

/** Keeps a storm from becoming as many messages: a few go out at once, and what follows them closely waits to go together. */
public final class Gathering {

    /** So many go out at once. */
    public static final int AT_ONCE = 3;

    /** For so long what follows is gathered. */
    public static final Duration SPAN = Duration.ofMinutes(2);

    private Gathering() {}

    /**
     * When a message may go out to somebody.
     *
     * @param before when messages to the same place were made before, in any order
     */
    public static Instant release(List<Instant> before, Instant now) {
        List<Instant> recent = before.stream()
                .filter(at -> at.isAfter(now.minus(SPAN)) && !at.isAfter(now))
                .sorted()
                .toList();
        return recent.size() < AT_ONCE ? now : recent.get(0).plus(SPAN);
    }
}
