package org.gantrel.service.cache;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import java.util.HashSet;
import java.util.Set;
import java.util.function.Function;
import org.springframework.transaction.support.TransactionSynchronization;
import org.springframework.transaction.support.TransactionSynchronizationManager;

/**
 * Keeps what was read from the database, at most so much, and only what is committed: a transaction that changes
 * something reads it for itself until it is through, and whatever was read beside it is not kept.
 */
public final class CommittedCache<K, V> {

    private static final class Changed<K> {
        private final Set<K> keys = new HashSet<>();
        private boolean all;
    }

    private final Cache<K, V> kept;
    private long changes;

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
            if (fresh != null && before == changes) {
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
        kept.invalidateAll();
    }

    private synchronized void forget(K key) {
        changes++;
        kept.invalidate(key);
    }
}
