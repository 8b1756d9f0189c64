package org.gantrel.service.signin;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Duration;
import java.time.Instant;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.atomic.AtomicInteger;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.signin.SignInThrottle.Failed;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("Guessing a password")
class SignInThrottleTest {

    private static final Instant NOON = Instant.parse("2026-11-23T12:00:00Z");
    private static final String HERE = "192.0.2.1";

    private final SignInThrottle throttle = new SignInThrottle();

    private Failed wrong(String name, String address, Instant at) {
        return throttle.tried(name, address, at, () -> false);
    }

    private Failed right(String name, String address, Instant at) {
        return throttle.tried(name, address, at, () -> true);
    }

    @Test
    @DisplayName("is free five times, then each failure doubles the pause, and says for how many seconds")
    void pausesDouble() {
        for (int i = 0; i < 4; i++) {
            assertThat(wrong("mara.holt", HERE, NOON)).isEqualTo(Failed.ONCE);
        }
        assertThat(wrong("mara.holt", HERE, NOON)).isEqualTo(Failed.LOCKED);
        assertThatThrownBy(() -> right("mara.holt", HERE, NOON))
                .isInstanceOfSatisfying(
                        Refusal.class, refusal -> assertThat(refusal.again()).contains(2L))
                .hasMessageContaining("try again in 2 s");
        Instant next = NOON.plusSeconds(2);
        wrong("mara.holt", HERE, next);
        assertThatThrownBy(() -> right("mara.holt", HERE, next.plusSeconds(3))).hasMessageContaining("in 1 s");
        assertThat(right("mara.holt", HERE, next.plusSeconds(4))).isEqualTo(Failed.NOT);
        assertThat(wrong("mara.holt", HERE, next.plusSeconds(4))).isEqualTo(Failed.ONCE);
    }

    @Test
    @DisplayName("keeps nobody out who comes from elsewhere, and is forgotten after an hour")
    void isForgotten() {
        for (int i = 0; i < 5; i++) {
            wrong("mara.holt", HERE, NOON);
        }
        assertThat(right("mara.holt", "198.51.100.7", NOON)).isEqualTo(Failed.NOT);
        assertThat(right("ivo.brandt", HERE, NOON)).isEqualTo(Failed.NOT);
        assertThat(wrong("mara.holt", HERE, NOON.plus(Duration.ofMinutes(61)))).isEqualTo(Failed.ONCE);
        assertThat(wrong("mara.holt", HERE, NOON.minus(Duration.ofMinutes(5))))
                .as("when the clock was put back")
                .isEqualTo(Failed.ONCE);
    }

    @Test
    @DisplayName("of many names from one address, or from many addresses at once, is slowed down as well")
    void manyNames() {
        for (int i = 0; i < SignInThrottle.FREE_FOR_ADDRESS; i++) {
            wrong("person-" + i, HERE, NOON);
        }
        assertThatThrownBy(() -> wrong("another", HERE, NOON)).hasMessageContaining("from this address");
        for (int i = 0; i < SignInThrottle.STORM; i++) {
            wrong("mara.holt", "203.0.113." + i, NOON);
        }
        assertThatThrownBy(() -> wrong("mara.holt", "203.0.113.1", NOON)).hasMessageContaining("as this person");
        assertThat(right("mara.holt", "198.51.100.7", NOON)).isEqualTo(Failed.NOT);
    }

    @Test
    @DisplayName("wins nothing by being done all at once")
    void countsBeforeItLooks() throws InterruptedException {
        var looked = new AtomicInteger();
        var hold = new CountDownLatch(1);
        ExecutorService many = Executors.newFixedThreadPool(30);
        var done = new CountDownLatch(30);
        for (int i = 0; i < 30; i++) {
            many.execute(() -> {
                try {
                    throttle.tried("mara.holt", HERE, NOON, () -> {
                        looked.incrementAndGet();
                        try {
                            hold.await();
                        } catch (InterruptedException e) {
                            Thread.currentThread().interrupt();
                        }
                        return false;
                    });
                } catch (Refusal refusal) {
                    // paused, or too many at once
                    hold.countDown();
                } finally {
                    done.countDown();
                }
            });
        }
        done.await();
        many.shutdown();
        assertThat(looked.get()).isLessThanOrEqualTo(SignInThrottle.FREE_FOR_NAME);
    }
}
