package org.gantrel.service.job;

import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import org.springframework.stereotype.Component;
import org.springframework.transaction.event.TransactionalEventListener;

/** Keeps the names of the teams that own jobs. */
@Component
class Owners {

    private final JobStore store;
    private final Map<Long, String> kept = new ConcurrentHashMap<>();

    Owners(JobStore store) {
        this.store = store;
    }

    String of(long job) {
        return kept.computeIfAbsent(job, store::owner);
    }

    /** A job that was saved may have gone to another team. */
    @TransactionalEventListener
    void forget(JobSaved saved) {
        kept.remove(saved.record().id());
    }
}
