package org.gantrel.service.run;

import org.springframework.stereotype.Component;

/**
 * Gives runs their numbers, one after the other. The service is alone with its database, so it counts by itself; a
 * sequence of the database would leave gaps after a crash, or cost a write for each number.
 */
@Component
class RunNumbers {

    private static final long FIRST = 1001;

    private final RunStore store;
    private long next;

    RunNumbers(RunStore store) {
        this.store = store;
    }

    synchronized long next() {
        if (next == 0) {
            next = store.highest().map(highest -> highest + 1).orElse(FIRST);
        }
        return next++;
    }
}
