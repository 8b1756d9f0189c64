package org.gantrel.service.beside;

import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;

/** What a process beside the service takes to begin: time of the service itself, for which nobody outside is to be blamed. */
public final class Beginning {

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

    /** Since when no process has been about to begin, as {@link System#nanoTime()} counts; now where one is. */
    public static long noneSince() {
        return UNDER_WAY.isEmpty() ? lastOver : System.nanoTime();
    }
}
