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
        GIVE_UP
    }

    /** A wish that is not done yet. */
    public record Open(long id, long run, Kind kind, String person) {}

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
        store.save(new Wish(run, kind, person, now));
        waker.wakeAfterCommit();
    }

    @Transactional(readOnly = true)
    public List<Open> open() {
        return store.findByOrderById(Limit.of(MOST)).stream().map(Wish::value).toList();
    }

    public void done(Open wish) {
        store.deleteById(wish.id());
    }
}
