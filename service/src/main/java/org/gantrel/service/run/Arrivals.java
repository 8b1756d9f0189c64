package org.gantrel.service.run;

import java.util.ArrayList;
import java.util.List;
import java.util.Queue;
import java.util.concurrent.ConcurrentLinkedQueue;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionSynchronization;
import org.springframework.transaction.support.TransactionSynchronizationManager;

/** The runs that were written down and wait, for the engine, in the order in which they were committed. */
@Component
public class Arrivals {

    private final Queue<Run> arrived = new ConcurrentLinkedQueue<>();

    /** Notes a run of the transaction under way. */
    void note(Run run) {
        TransactionSynchronizationManager.registerSynchronization(new TransactionSynchronization() {
            @Override
            public void afterCommit() {
                arrived.add(run);
            }
        });
    }

    /** Those that came since. */
    public List<Run> take() {
        var taken = new ArrayList<Run>();
        for (Run next = arrived.poll(); next != null; next = arrived.poll()) {
            taken.add(next);
        }
        return taken;
    }
}
