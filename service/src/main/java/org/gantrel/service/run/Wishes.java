package org.gantrel.service.run;

import java.time.Instant;
import java.util.List;
import org.gantrel.service.time.Waker;
import org.springframework.data.domain.Limit;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Where people say what they want of a run; the engine reads it, and it outlasts a restart. */
@Component
@Transactional
public class Wishes {

    private static final int MOST = 500;

    /** What may be wanted. */
    public enum Kind {
        /** That it stops. */
        STOP,
        /** That its next try comes at once. */
        TRY_NOW,
        /** That no further try comes. */
        GIVE_UP,
        /** What somebody decided where a chain asked. */
        DECIDE,
        /** That a step of a chain is skipped. */
        SKIP,
        /** That a chain goes on after a repair. */
        GO_ON,
        /** That a chain begins no further step. */
        HOLD,
        /** That a chain that was held goes on. */
        LET_GO
    }

    /**
     * A wish that is not done yet.
     *
     * @param step the step of a chain that it concerns; empty where it concerns none
     * @param details what else it says, sealed
     */
    public record Open(long id, long run, Kind kind, String person, String step, String details) {}

    private final WishStore store;
    private final Waker waker;

    Wishes(WishStore store, Waker waker) {
        this.store = store;
        this.waker = waker;
    }

    /** Wants a run stopped. */
    public void stop(long run, String person, Instant now) {
        want(run, Kind.STOP, person, now);
    }

    /** Wants something of a run. */
    public void want(long run, Kind kind, String person, Instant now) {
        want(run, kind, "", "", person, now);
    }

    /** Wants something of a step of a chain. @param details what else is to be said, sealed */
    public void want(long run, Kind kind, String step, String details, String person, Instant now) {
        store.save(new Wish(run, kind, step, details, person, now));
        waker.wakeAfterCommit();
    }

    /** Whether a wish of a run is still to be done. */
    @Transactional(readOnly = true)
    public boolean isOpen(long run) {
        return store.existsByRunNumber(run);
    }

    @Transactional(readOnly = true)
    public List<Open> open() {
        return store.findByOrderById(Limit.of(MOST)).stream().map(Wish::value).toList();
    }

    public void done(Open wish) {
        store.deleteById(wish.id());
    }
}
