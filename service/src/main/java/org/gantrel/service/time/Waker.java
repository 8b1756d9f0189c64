package org.gantrel.service.time;

import java.time.Duration;
import java.util.concurrent.locks.Condition;
import java.util.concurrent.locks.ReentrantLock;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionSynchronization;
import org.springframework.transaction.support.TransactionSynchronizationManager;

/** Where the engine sleeps until an instant comes or somebody has news for it. */
@Component
public final class Waker {

    private final ReentrantLock lock = new ReentrantLock();
    private final Condition stirred = lock.newCondition();
    private boolean news;

    /** Wakes the engine now. News that comes while it works is not lost: it looks again before it sleeps. */
    public void wake() {
        lock.lock();
        try {
            news = true;
            stirred.signalAll();
        } finally {
            lock.unlock();
        }
    }

    /** Wakes the engine when the open transaction is durable, so that it sees what was written. */
    public void wakeAfterCommit() {
        if (!TransactionSynchronizationManager.isSynchronizationActive()) {
            wake();
            return;
        }
        TransactionSynchronizationManager.registerSynchronization(new TransactionSynchronization() {
            @Override
            public void afterCommit() {
                wake();
            }
        });
    }

    /** Returns after so long, or at the first news. It is measured without the clock, which may be put back meanwhile. */
    public void sleep(Duration length) throws InterruptedException {
        lock.lock();
        try {
            long nanos = length.toNanos();
            while (!news && nanos > 0) {
                nanos = stirred.awaitNanos(nanos);
            }
            news = false;
        } finally {
            lock.unlock();
        }
    }
}
