package org.gantrel.service.signin;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import java.time.Duration;
import java.time.Instant;
import java.util.Optional;
import java.util.Queue;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.concurrent.Semaphore;
import java.util.function.Supplier;
import org.gantrel.service.refusal.Refusal;
import org.springframework.stereotype.Component;

/**
 * Slows down guessing. A try counts before the password is looked at, so that many at once win nothing. What fails is
 * counted for a name at an address and for an address whatever the name; each further failure doubles the pause. So a
 * stranger's failures keep nobody out who signs in from elsewhere. While many fail everywhere, the first failure of a name
 * at an address is paused already. How many passwords are looked at at once is bounded
 * for everybody together, since each costs the processor a tenth of a second.
 */
@Component
class SignInThrottle {

    static final int FREE_FOR_NAME = 5;
    static final int FREE_FOR_ADDRESS = 30;
    static final int STORM = 60;
    private static final int LOOKED_AT_ONCE = 4;
    private static final Duration FIRST_PAUSE = Duration.ofSeconds(2);
    private static final int MOST_DOUBLINGS = 9;
    private static final Duration MINUTE = Duration.ofMinutes(1);
    private static final Duration FORGET_AFTER = Duration.ofHours(1);
    private static final int MOST_KEPT = 20_000;

    private record Failures(int count, Instant last) {

        private Optional<Duration> pause(int free, Instant now) {
            if (count < free) {
                return Optional.empty();
            }
            Instant next = last.plus(FIRST_PAUSE.multipliedBy(1L << Math.min(MOST_DOUBLINGS, count - free)));
            return now.isBefore(next) ? Optional.of(Duration.between(now, next)) : Optional.empty();
        }
    }

    /** How a try ended that the throttle let through. */
    enum Failed {
        NOT,
        ONCE,
        /** From now on there is a pause. */
        LOCKED
    }

    private final Cache<String, Failures> byName =
            Caffeine.newBuilder().maximumSize(MOST_KEPT).build();
    private final Cache<String, Failures> byAddress =
            Caffeine.newBuilder().maximumSize(MOST_KEPT).build();
    private final Queue<Instant> everywhere = new ConcurrentLinkedQueue<>();
    private final Semaphore looks = new Semaphore(LOOKED_AT_ONCE);

    /**
     * Lets a try through.
     *
     * @param look whether the name and the password fit
     * @throws Refusal where it has to wait
     */
    Failed tried(String name, String address, Instant now, Supplier<Boolean> look) {
        String both = name + "\n" + address;
        if (!looks.tryAcquire()) {
            throw Refusal.tooMany("many sign in just now; try again in a moment");
        }
        Failures counted;
        try {
            counted = count(byName, both, isStorm(now) ? 1 : FREE_FOR_NAME, now, "as this person");
            try {
                count(byAddress, address, FREE_FOR_ADDRESS, now, "from this address");
            } catch (Refusal refusal) {
                takeBack(byName, both);
                throw refusal;
            }
        } catch (Refusal refusal) {
            looks.release();
            throw refusal;
        }
        everywhere.add(now);
        try {
            if (!look.get()) {
                return counted.count() >= FREE_FOR_NAME ? Failed.LOCKED : Failed.ONCE;
            }
        } finally {
            looks.release();
        }
        byName.invalidate(both);
        everywhere.remove(now);
        takeBack(byAddress, address);
        return Failed.NOT;
    }

    /** Whether so many have failed within the last minute that somebody tries from many addresses. */
    private boolean isStorm(Instant now) {
        everywhere.removeIf(at -> Duration.between(at, now).abs().compareTo(MINUTE) > 0);
        return everywhere.size() >= STORM;
    }

    /** Counts a try, unless there is a pause: both at once, so that tries side by side are counted one after the other. */
    private static Failures count(Cache<String, Failures> failures, String key, int free, Instant now, String what) {
        return failures.asMap().compute(key, (same, known) -> {
            // one of a time that is to come was before the clock was put back
            if (known == null
                    || known.last().plus(FORGET_AFTER).isBefore(now)
                    || known.last().isAfter(now.plus(MINUTE))) {
                return new Failures(1, now);
            }
            known.pause(free, now).ifPresent(pause -> {
                long seconds = Math.max(1, pause.plusMillis(999).toSeconds());
                throw Refusal.tooMany(
                        "too many failed tries to sign in " + what + "; try again in " + seconds + " s", pause);
            });
            return new Failures(known.count() + 1, now);
        });
    }

    private static void takeBack(Cache<String, Failures> failures, String key) {
        failures.asMap()
                .computeIfPresent(
                        key, (same, known) -> known.count() > 1 ? new Failures(known.count() - 1, known.last()) : null);
    }
}
