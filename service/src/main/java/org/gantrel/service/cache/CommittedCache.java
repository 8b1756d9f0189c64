package org.gantrel.service.cache;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import java.util.HashSet;
import java.util.Set;
import java.util.concurrent.atomic.AtomicLong;
import java.util.function.Function;
import org.springframework.transaction.support.TransactionSynchronization;
import org.springframework.transaction.support.TransactionSynchronizationManager;

/**
 * Keeps what was read from the database, at most so much, and only what is committed: a transaction that changes
 * something reads it for itself until it is through, and whatever was read beside it is not kept. Nor is what a
 * transaction reads that had begun before the last change: it may have read it before.
 */
public final class CommittedCache<K, V> {

    private static final class Changed<K> {
        private final Set<K> keys = new HashSet<>();
        private boolean all;
    }

    /** Counts the changes of all caches, so that a transaction knows which came after it had begun. */
    private static final AtomicLong CLOCK = new AtomicLong();

    private final Cache<K, V> kept;
    private long changes;
    private long lastChange;

    /** Where all caches were when the transaction under way began, on its thread. */
    private record Begun(long at) implements TransactionSynchronization {
        @Override
        public void suspend() {
            TransactionSynchronizationManager.unbindResourceIfPossible(Begun.class);
        }

        @Override
        public void resume() {
            TransactionSynchronizationManager.bindResource(Begun.class, this);
        }

        @Override
        public void afterCompletion(int status) {
            TransactionSynchronizationManager.unbindResourceIfPossible(Begun.class);
        }
    }

    /**
     * Is told that a transaction begins on this thread. What it reads may come from what it has read before, which may be
     * older than what others have committed meanwhile; so that is not kept.
     */
    static void transactionBegins() {
        if (TransactionSynchronizationManager.isSynchronizationActive()
                && !TransactionSynchronizationManager.hasResource(Begun.class)) {
            var begun = new Begun(CLOCK.get());
            TransactionSynchronizationManager.bindResource(Begun.class, begun);
            TransactionSynchronizationManager.registerSynchronization(begun);
        }
    }

    /** Whether nothing of this cache was changed since the transaction under way began, if there is one. */
    private boolean isSeenWhole() {
        return !TransactionSynchronizationManager.isActualTransactionActive()
                || TransactionSynchronizationManager.getResource(Begun.class) instanceof Begun begun
                        && lastChange <= begun.at();
    }

    public CommittedCache(long most) {
        this.kept = Caffeine.newBuilder().maximumSize(most).build();
    }

    /** What is kept under a key, read where it is not. What cannot be found (null) is not kept. */
    public V get(K key, Function<? super K, ? extends V> read) {
        if (TransactionSynchronizationManager.isSynchronizationActive()
                && TransactionSynchronizationManager.getResource(this) instanceof Changed<?> mine
                && (mine.all || mine.keys.contains(key))) {
            return read.apply(key);
        }
        V known = kept.getIfPresent(key);
        if (known != null) {
            return known;
        }
        long before;
        synchronized (this) {
            before = changes;
        }
        V fresh = read.apply(key);
        synchronized (this) {
            if (fresh != null && before == changes && isSeenWhole()) {
                kept.put(key, fresh);
            }
        }
        return fresh;
    }

    /** Notes that the transaction under way changes what is kept under a key. */
    public void changed(K key) {
        forget(key);
        mine().keys.add(key);
    }

    /** Notes that the transaction under way may change all that is kept. */
    public void changedAll() {
        clear();
        mine().all = true;
    }

    /** What the transaction under way has changed; outside of one that is forgotten at once. */
    @SuppressWarnings("unchecked")
    private Changed<K> mine() {
        var known = (Changed<K>) TransactionSynchronizationManager.getResource(this);
        if (known != null || !TransactionSynchronizationManager.isSynchronizationActive()) {
            return known == null ? new Changed<>() : known;
        }
        var changed = new Changed<K>();
        TransactionSynchronizationManager.bindResource(this, changed);
        TransactionSynchronizationManager.registerSynchronization(new TransactionSynchronization() {
            @Override
            public void afterCompletion(int status) {
                TransactionSynchronizationManager.unbindResourceIfPossible(CommittedCache.this);
                changed.keys.forEach(CommittedCache.this::forget);
                if (changed.all) {
                    clear();
                }
            }
        });
        return changed;
    }

    private synchronized void clear() {
        changes++;
        lastChange = CLOCK.incrementAndGet();
        kept.invalidateAll();
    }

    private synchronized void forget(K key) {
        changes++;
        lastChange = CLOCK.incrementAndGet();
        kept.invalidate(key);
    }
}
