package org.gantrel.service.durable;

import com.github.benmanes.caffeine.cache.Caffeine;
import com.github.benmanes.caffeine.cache.LoadingCache;
import java.time.Duration;
import java.util.ArrayDeque;
import java.util.Collection;
import java.util.Deque;
import java.util.List;
import java.util.TreeSet;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.locks.ReentrantLock;
import java.util.function.Function;
import java.util.function.Supplier;
import org.gantrel.service.refusal.Refusal;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionSynchronizationManager;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Lets those who change definitions, or the rows of one roster, come one after the other, each with a transaction from its
 * first look to its end: what was checked still holds when it is written. Two changes that are right each by itself may be
 * wrong together, such as calendars that are made of each other; and of two edits of the same revision one is the later.
 * Whoever waits holds no connection to the database.
 */
@Component
public class Turn {

    private static final Duration PATIENCE = Duration.ofSeconds(60);
    private static final Duration AGAIN = Duration.ofSeconds(5);

    private final TransactionTemplate transaction;
    private final ReentrantLock definitions = new ReentrantLock(true);
    /** In the order of their names, after the definitions; one that nobody waits for is not kept. */
    private final LoadingCache<String, ReentrantLock> rows =
            Caffeine.newBuilder().weakValues().build(roster -> new ReentrantLock(true));

    Turn(TransactionTemplate transaction) {
        this.transaction = transaction;
    }

    /** Changes definitions, in a transaction of its own. */
    public <T> T change(Supplier<T> work) {
        return change(List.of(), work);
    }

    /**
     * Changes definitions by what somebody has sent. It is judged once before: what is refused waits for nobody, and keeps
     * nobody waiting.
     */
    public <D, T> T change(Supplier<D> judged, Function<D, T> write) {
        return change(List.of(), judged, write);
    }

    /** The same, with the rows of some rosters. */
    public <D, T> T change(Collection<String> rosters, Supplier<D> judged, Function<D, T> write) {
        transaction.execute(begun -> judged.get());
        return change(rosters, () -> write.apply(judged.get()));
    }

    /** The same for what says nothing. */
    public void perform(Runnable work) {
        change(() -> {
            work.run();
            return true;
        });
    }

    /** Changes definitions with the rows of some rosters. */
    public <T> T change(Collection<String> rosters, Supplier<T> work) {
        return inTurn(true, rosters, work);
    }

    /** Changes the rows of a roster. */
    public <T> T changeRows(String roster, Supplier<T> work) {
        return inTurn(false, List.of(roster), work);
    }

    private <T> T inTurn(boolean all, Collection<String> rosters, Supplier<T> work) {
        if (TransactionSynchronizationManager.isActualTransactionActive()) {
            if (!definitions.isHeldByCurrentThread()) {
                throw new IllegalStateException("a turn is waited for without a transaction");
            }
            // a part of a larger change
            return work.get();
        }
        Deque<ReentrantLock> held = new ArrayDeque<>();
        long until = System.nanoTime() + PATIENCE.toNanos();
        try {
            if (all) {
                take(definitions, until, held);
            }
            for (String roster : new TreeSet<>(rosters)) {
                take(rows.get(roster), until, held);
            }
            return transaction.execute(begun -> work.get());
        } finally {
            held.forEach(ReentrantLock::unlock);
        }
    }

    private static void take(ReentrantLock lock, long until, Deque<ReentrantLock> held) {
        try {
            if (lock.tryLock(until - System.nanoTime(), TimeUnit.NANOSECONDS)) {
                held.push(lock);
                return;
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
        throw Refusal.tooMany(
                "others have been changing definitions for " + PATIENCE.toSeconds()
                        + " s, such as by a large import; nothing was changed, try again in a moment",
                AGAIN);
    }
}
