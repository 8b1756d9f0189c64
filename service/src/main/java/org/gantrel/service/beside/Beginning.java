package org.gantrel.service.beside;

import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;

/** What a process beside the service takes to begin: time of the service itself, for which nobody outside is to be blamed. */
public final class Beginning {

    /** One that has not begun by then is in trouble, which nobody is to wait for. */
    private static final long MOST_NANOS = 8_000_000_000L;

    private static final Set<Beginning> UNDER_WAY = ConcurrentHashMap.newKeySet();

    private static volatile long lastOver = System.nanoTime();

    Beginning() {
        UNDER_WAY.add(this);
    }

    /** The process does what it is asked from now on, or will never do it. */
    public void over() {
        if (UNDER_WAY.contains(this)) {
            lastOver = System.nanoTime();
            UNDER_WAY.remove(this);
        }
    }

    /**
     * How long others have been waited for.
     *
     * @param since when that began, as {@link System#nanoTime()} counts
     * @return nanoseconds; what went by until the last process had begun is left out, as far as there is sense in it
     */
    public static long elapsed(long since) {
        long now = System.nanoTime();
        long withoutBeginnings = UNDER_WAY.isEmpty() ? now - lastOver : 0;
        return Math.max(Math.min(now - since, withoutBeginnings), now - since - MOST_NANOS);
    }
}
