package org.gantrel.service.cache;

import java.lang.ref.SoftReference;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.concurrent.Semaphore;
import java.util.concurrent.atomic.AtomicLong;
import java.util.function.LongSupplier;
import java.util.function.Supplier;

/**
 * The last answers to questions that take long to answer, for all who ask the same in the same moments. An answer holds
 * while nothing happens, for two seconds or as long as it took. What happens meanwhile makes it an old one, but all who
 * came before the next one was begun take that: however many ask, one question is worked out once at a time, and so many
 * questions at most side by side. Nobody is to hold a connection to the database who comes here.
 *
 * @param <K> questions, told apart by {@code equals}
 * @param <V> answers, which nobody changes
 */
public final class Recent<K, V> {

    private static final Duration KEPT_FOR = Duration.ofSeconds(2);
    private static final Duration LONGEST = Duration.ofMinutes(5);
    private static final int MOST = 4;

    private final class Answer {
        /** An answer may be large: where room is short it is let go, and worked out anew. */
        private SoftReference<V> kept = new SoftReference<>(null);

        private long number;
        private long state;
        private Instant at = Instant.MIN;
        private Duration keptFor = KEPT_FOR;

        private boolean holds(long asked) {
            return number > asked || (state == states.getAsLong() && isYoung(clock.instant()));
        }

        private boolean isYoung(Instant now) {
            return !at.isAfter(now) && at.plus(keptFor).isAfter(now);
        }

        private V take(Supplier<V> work) {
            long begun = numbers.incrementAndGet();
            long before = states.getAsLong();
            Instant from = clock.instant();
            V value = work.get();
            kept = new SoftReference<>(value);
            at = clock.instant();
            Duration took = Duration.between(from, at);
            // one that seems to have taken hours was worked out while the clock was set
            boolean isLong = took.compareTo(KEPT_FOR) > 0 && took.compareTo(LONGEST) <= 0;
            keptFor = isLong ? took : KEPT_FOR;
            state = before;
            number = begun;
            return value;
        }
    }

    private final LongSupplier states;
    private final Clock clock;
    private final Semaphore working;
    private final AtomicLong numbers = new AtomicLong();
    private final Map<K, Answer> answers = new LinkedHashMap<>(MOST, 0.75f, true) {
        @Override
        protected boolean removeEldestEntry(Map.Entry<K, Answer> eldest) {
            return size() > MOST;
        }
    };

    /**
     * @param states another number whenever something has happened that answers depend on
     * @param atOnce how many are worked out side by side
     */
    public Recent(LongSupplier states, Clock clock, int atOnce) {
        this.states = states;
        this.clock = clock;
        this.working = new Semaphore(atOnce, true);
    }

    /** The answer to a question. What its work throws is thrown, and nothing is kept of it. */
    public V of(K question, Supplier<V> work) {
        long asked = numbers.get();
        Answer answer;
        synchronized (answers) {
            answer = answers.computeIfAbsent(question, key -> new Answer());
        }
        synchronized (answer) {
            V known = answer.kept.get();
            if (known != null && answer.holds(asked)) {
                return known;
            }
            working.acquireUninterruptibly();
            try {
                return answer.take(work);
            } finally {
                working.release();
            }
        }
    }
}
