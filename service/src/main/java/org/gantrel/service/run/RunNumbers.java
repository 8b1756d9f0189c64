package org.gantrel.service.run;

import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionSynchronization;
import org.springframework.transaction.support.TransactionSynchronizationManager;

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

    /** The next number; one whose run is not written after all is given again, unless a later one is out already. */
    synchronized long next() {
        if (next == 0) {
            next = store.highest().map(highest -> highest + 1).orElse(FIRST);
        }
        long number = next++;
        if (TransactionSynchronizationManager.isSynchronizationActive()) {
            TransactionSynchronizationManager.registerSynchronization(new TransactionSynchronization() {
                @Override
                public void afterCompletion(int status) {
                    if (status == STATUS_ROLLED_BACK) {
                        takeBack(number);
                    }
                }
            });
        }
        return number;
    }

    private synchronized void takeBack(long number) {
        if (next == number + 1) {
            next = number;
        }
    }
}
