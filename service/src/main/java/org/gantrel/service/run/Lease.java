package org.gantrel.service.run;

import jakarta.persistence.EntityManager;
import jakarta.persistence.LockModeType;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Propagation;
import org.springframework.transaction.annotation.Transactional;
import org.springframework.transaction.support.TransactionSynchronization;
import org.springframework.transaction.support.TransactionSynchronizationManager;

/**
 * The right to move runs. Each start of a service takes the next epoch; one that lost its database to another and comes
 * back late finds another epoch there, and its moves are refused.
 */
@Component
public class Lease {

    private final EntityManager entities;
    private volatile long mine = -1;

    Lease(EntityManager entities) {
        this.entities = entities;
    }

    /** Takes the right over from whoever had it. */
    @Transactional
    public void take() {
        mine = entities.find(LeaseRecord.class, LeaseRecord.ONLY, LockModeType.PESSIMISTIC_WRITE)
                .take();
    }

    /**
     * Checks once in a transaction that moves runs that the right is still this service's.
     *
     * @throws IllegalStateException where another has taken it; nothing may be moved then
     */
    @Transactional(propagation = Propagation.MANDATORY)
    void check() {
        if (mine < 0 || TransactionSynchronizationManager.hasResource(this)) {
            return;
        }
        long there = entities.createQuery("select l.epoch from LeaseRecord l where l.id = 1", Long.class)
                .getSingleResult();
        if (there != mine) {
            throw new IllegalStateException(
                    "another service has taken over (epoch " + there + ", this one has " + mine + ")");
        }
        TransactionSynchronizationManager.bindResource(this, there);
        TransactionSynchronizationManager.registerSynchronization(new TransactionSynchronization() {
            @Override
            public void afterCompletion(int status) {
                TransactionSynchronizationManager.unbindResourceIfPossible(Lease.this);
            }
        });
    }
}
