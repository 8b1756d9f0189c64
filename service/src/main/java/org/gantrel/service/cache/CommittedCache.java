package org.gantrel.service.cache;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import java.util.HashMap;
import java.util.HashSet;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.atomic.AtomicLong;
import java.util.function.Function;
import org.springframework.transaction.support.TransactionSynchronization;
import org.springframework.transaction.support.TransactionSynchronizationManager;

/**
 * Keeps what was read from the database, at most so much, and only what is committed. From the moment at which a
 * transaction notes that it changes something until it is through, it reads that for itself, and what others read of it is
 * not kept: whoever sees the change in the database finds nothing here that is older. Nor is kept what a transaction reads
 * that had begun before the last change: it may have read it before.
 */
public final class CommittedCache<K, V> {

    /** What one transaction changes, and what it has read of that since. */
    private static final class Changed<K, V> {
        private final Set<K> keys = new HashSet<>();
        private final Map<K, V> read = new HashMap<>();
        private boolean all;

        private boolean holds(K key) {
            return all || keys.contains(key);
        }
    }

    /** Counts the changes of all caches, so that a transaction knows which came after it had begun. */
    private static final AtomicLong CLOCK = new AtomicLong();

    private final long most;
    private final Cache<K, V> kept;
    /** Of how many transactions that are under way each key is changed; of how many all that is kept may be. */
    private final Map<K, Integer> changing = new HashMap<>();

    private int changingAll;
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
        this.most = most;
        this.kept = Caffeine.newBuilder().maximumSize(most).build();
    }

    /** What is kept under a key, read where it is not. What cannot be found (null) is not kept. */
    public V get(K key, Function<? super K, ? extends V> read) {
        Changed<K, V> mine = mineOrNull();
        if (mine != null && mine.holds(key)) {
            return readOwn(mine, key, read);
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
            if (fresh != null && before == changes && changingAll == 0 && !changing.containsKey(key) && isSeenWhole()) {
                kept.put(key, fresh);
            }
        }
        return fresh;
    }

    private V readOwn(Changed<K, V> mine, K key, Function<? super K, ? extends V> read) {
        V known = mine.read.get(key);
        if (known != null) {
            return known;
        }
        V fresh = read.apply(key);
        if (fresh != null && mine.read.size() < most) {
            mine.read.put(key, fresh);
        }
        return fresh;
    }

    /** Notes that the transaction under way has changed what is kept under a key. Outside of one it is forgotten at once. */
    public void changed(K key) {
        Changed<K, V> mine = mine();
        synchronized (this) {
            if (mine != null && mine.keys.add(key)) {
                changing.merge(key, 1, Integer::sum);
            }
            forget(key);
        }
        if (mine != null) {
            mine.read.remove(key);
        }
    }

    /** Notes that the transaction under way may have changed all that is kept. Outside of one all is forgotten at once. */
    public void changedAll() {
        Changed<K, V> mine = mine();
        synchronized (this) {
            if (mine != null && !mine.all) {
                mine.all = true;
                changingAll++;
            }
            clear();
        }
        if (mine != null) {
            mine.read.clear();
        }
    }

    @SuppressWarnings("unchecked")
    private Changed<K, V> mineOrNull() {
        return TransactionSynchronizationManager.isSynchronizationActive()
                ? (Changed<K, V>) TransactionSynchronizationManager.getResource(this)
                : null;
    }

    /** What the transaction under way has changed; null outside of one. */
    private Changed<K, V> mine() {
        Changed<K, V> known = mineOrNull();
        if (known != null || !TransactionSynchronizationManager.isSynchronizationActive()) {
            return known;
        }
        var changed = new Changed<K, V>();
        TransactionSynchronizationManager.registerSynchronization(new Ending(changed));
        TransactionSynchronizationManager.bindResource(this, changed);
        return changed;
    }

    /** Waits for the end of a transaction that changes something. One that is suspended meanwhile changes nothing for the other. */
    private final class Ending implements TransactionSynchronization {
        private final Changed<K, V> changed;

        private Ending(Changed<K, V> changed) {
            this.changed = changed;
        }

        @Override
        public void suspend() {
            TransactionSynchronizationManager.unbindResourceIfPossible(CommittedCache.this);
        }

        @Override
        public void resume() {
            TransactionSynchronizationManager.bindResource(CommittedCache.this, changed);
        }

        @Override
        public void afterCompletion(int status) {
            TransactionSynchronizationManager.unbindResourceIfPossible(CommittedCache.this);
            synchronized (CommittedCache.this) {
                for (K key : changed.keys) {
                    changing.computeIfPresent(key, (same, count) -> count == 1 ? null : count - 1);
                    forget(key);
                }
                if (changed.all) {
                    changingAll--;
                    clear();
                }
            }
        }
    }

    private void clear() {
        changes++;
        lastChange = CLOCK.incrementAndGet();
        kept.invalidateAll();
    }

    private void forget(K key) {
        changes++;
        lastChange = CLOCK.incrementAndGet();
        kept.invalidate(key);
    }
}
