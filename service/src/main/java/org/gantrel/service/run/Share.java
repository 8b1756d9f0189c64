package org.gantrel.service.run;

import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.Semaphore;
import java.util.function.Supplier;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.team.Caller;

/** Bounds how much of something goes on at once, over all and for each person, so that nobody takes what others need. */
final class Share {

    private final String what;
    private final int most;
    private final int each;
    private final Semaphore all;
    private final Map<String, Integer> own = new ConcurrentHashMap<>();

    /** @param what goes on, as in "already 6 logs are read" */
    Share(String what, int most, int each) {
        this.what = what;
        this.most = most;
        this.each = each;
        this.all = new Semaphore(most);
    }

    /**
     * Does it, if there is room.
     *
     * @throws Refusal with 429 where too much goes on already
     */
    <T> T within(Caller caller, Supplier<T> work) {
        if (own.merge(caller.name(), 1, Integer::sum) > each) {
            leave(caller);
            throw Refusal.tooMany("already " + each + " " + what + " for you; try again in a moment");
        }
        if (!all.tryAcquire()) {
            leave(caller);
            throw Refusal.tooMany("already " + most + " " + what + "; try again in a moment");
        }
        try {
            return work.get();
        } finally {
            all.release();
            leave(caller);
        }
    }

    private void leave(Caller caller) {
        own.computeIfPresent(caller.name(), (name, count) -> count == 1 ? null : count - 1);
    }
}
