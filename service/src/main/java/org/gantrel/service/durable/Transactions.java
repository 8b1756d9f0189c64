package org.gantrel.service.durable;

import org.springframework.transaction.PlatformTransactionManager;
import org.springframework.transaction.support.TransactionSynchronizationManager;
import org.springframework.transaction.support.TransactionTemplate;

/** Transactions that code opens itself, where a method is too much for one. */
public final class Transactions {

    private Transactions() {}

    /** Such that change nothing. */
    public static TransactionTemplate reading(PlatformTransactionManager manager) {
        var reading = new TransactionTemplate(manager);
        reading.setReadOnly(true);
        return reading;
    }

    /**
     * Whether none is under way on this thread. Whoever waits for another system holds no connection to the database: there
     * are few, and the engine needs them too. Doors to the outside assert that.
     */
    public static boolean none() {
        return !TransactionSynchronizationManager.isActualTransactionActive();
    }
}
