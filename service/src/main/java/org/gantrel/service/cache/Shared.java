package org.gantrel.service.cache;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import java.util.function.Supplier;

/**
 * Works something out once for all who ask for it at the same time, so that many who look cost no more than two. Nobody gets
 * what was begun before they asked: there is nothing that could be old.
 */
public final class Shared<K, V> {

    private static final class Slot<V> {
        private V value;
        private long begun;
    }

    private final Cache<K, Slot<V>> slots;

    /** @param most of how many different things it is remembered who asks for them; of more, more are worked out */
    public Shared(int most) {
        slots = Caffeine.newBuilder().maximumSize(most).build();
    }

    /** The value of a key; worked out by this thread, or by one that began to do so after this was called. */
    public V get(K key, Supplier<V> work) {
        long asked = System.nanoTime();
        Slot<V> slot = slots.get(key, of -> new Slot<>());
        synchronized (slot) {
            if (slot.value == null || slot.begun - asked < 0) {
                slot.value = null;
                slot.begun = System.nanoTime();
                slot.value = work.get();
            }
            return slot.value;
        }
    }
}
