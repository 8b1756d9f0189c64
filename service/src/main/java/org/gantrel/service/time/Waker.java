package org.gantrel.service.time;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.locks.Condition;
import java.util.concurrent.locks.ReentrantLock;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionSynchronization;
import org.springframework.transaction.support.TransactionSynchronizationManager;

/** Where the engine sleeps until an instant comes or somebody has news for it. */
@Component
public final class Waker {

    private final Clock clock;
    private final ReentrantLock lock = new ReentrantLock();
    private final Condition stirred = lock.newCondition();
    private boolean news;

    Waker(Clock clock) {
        this.clock = clock;
    }

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

    /** Returns at the instant, or at the first news. */
    public void sleepUntil(Instant instant) throws InterruptedException {
        lock.lock();
        try {
            while (!news) {
                long nanos = Duration.between(clock.instant(), instant).toNanos();
                if (nanos <= 0) {
                    break;
                }
                stirred.await(nanos, TimeUnit.NANOSECONDS);
            }
            news = false;
        } finally {
            lock.unlock();
        }
    }
}
