package org.gantrel.service.signin;

import java.time.Duration;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.Map;
import org.gantrel.service.refusal.Refusal;
import org.springframework.stereotype.Component;

/** Slows down guessing: after a few failures for a name each further one doubles the time until the next try. */
@Component
class SignInThrottle {

    private static final int FREE_FAILURES = 5;
    private static final Duration FIRST_PAUSE = Duration.ofSeconds(2);
    private static final int MOST_DOUBLINGS = 9;
    private static final Duration FORGET_AFTER = Duration.ofHours(1);
    private static final int MOST_NAMES = 10_000;

    private record Failures(int count, Instant last) {}

    private final Map<String, Failures> failures = new LinkedHashMap<>(64, 0.75f, true) {
        @Override
        protected boolean removeEldestEntry(Map.Entry<String, Failures> eldest) {
            return size() > MOST_NAMES;
        }
    };

    synchronized void check(String name, Instant now) {
        Failures known = failures.get(name);
        if (known == null || known.count() < FREE_FAILURES) {
            return;
        }
        int doublings = Math.min(MOST_DOUBLINGS, known.count() - FREE_FAILURES);
        Instant next = known.last().plus(FIRST_PAUSE.multipliedBy(1L << doublings));
        if (now.isBefore(next)) {
            long seconds = Math.max(1, Duration.between(now, next).toSeconds());
            throw Refusal.tooMany("too many failed tries to sign in as this person; try again in " + seconds + " s");
        }
    }

    synchronized void failed(String name, Instant now) {
        Failures known = failures.get(name);
        boolean old = known == null || known.last().plus(FORGET_AFTER).isBefore(now);
        failures.put(name, new Failures(old ? 1 : known.count() + 1, now));
    }

    synchronized void succeeded(String name) {
        failures.remove(name);
    }
}
