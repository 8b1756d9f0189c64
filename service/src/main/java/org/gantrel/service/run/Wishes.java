package org.gantrel.service.run;

import java.time.Instant;
import java.util.List;
import org.gantrel.service.time.Waker;
import org.springframework.data.domain.Limit;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Where those who want a run stopped say so; the engine reads it, and it outlasts a restart. */
@Component
@Transactional
public class Wishes {

    private static final int MOST = 500;

    /** A wish that is not done yet: the run is to stop. */
    public record Open(long id, long run, String person) {}

    private final WishStore store;
    private final Waker waker;

    Wishes(WishStore store, Waker waker) {
        this.store = store;
        this.waker = waker;
    }

    /** Wants a run stopped. */
    public void stop(long run, String person, Instant now) {
        store.save(new Wish(run, person, now));
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
