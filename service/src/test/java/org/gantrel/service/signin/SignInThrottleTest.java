package org.gantrel.service.signin;

import static org.assertj.core.api.Assertions.assertThatCode;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Duration;
import java.time.Instant;
import org.gantrel.service.refusal.Refusal;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("Guessing a password")
class SignInThrottleTest {

    private static final Instant NOON = Instant.parse("2026-11-23T12:00:00Z");

    private final SignInThrottle throttle = new SignInThrottle();

    private void fail(int times, Instant at) {
        for (int i = 0; i < times; i++) {
            throttle.failed("mara.holt", at);
        }
    }

    @Test
    @DisplayName("is free five times, then each failure doubles the pause")
    void pausesDouble() {
        fail(4, NOON);
        assertThatCode(() -> throttle.check("mara.holt", NOON)).doesNotThrowAnyException();
        fail(1, NOON);
        assertThatThrownBy(() -> throttle.check("mara.holt", NOON))
                .isInstanceOf(Refusal.class)
                .hasMessageContaining("try again in 2 s");
        assertThatCode(() -> throttle.check("mara.holt", NOON.plusSeconds(2))).doesNotThrowAnyException();
        fail(3, NOON);
        assertThatThrownBy(() -> throttle.check("mara.holt", NOON)).hasMessageContaining("try again in 16 s");
        fail(60, NOON);
        assertThatThrownBy(() -> throttle.check("mara.holt", NOON)).hasMessageContaining("try again in 1024 s");
    }

    @Test
    @DisplayName("concerns one name only, and is forgotten after a success or an hour")
    void isForgotten() {
        fail(9, NOON);
        assertThatCode(() -> throttle.check("ivo.brandt", NOON)).doesNotThrowAnyException();
        throttle.succeeded("mara.holt");
        assertThatCode(() -> throttle.check("mara.holt", NOON)).doesNotThrowAnyException();
        fail(9, NOON);
        Instant later = NOON.plus(Duration.ofMinutes(61));
        throttle.failed("mara.holt", later);
        assertThatCode(() -> throttle.check("mara.holt", later)).doesNotThrowAnyException();
    }
}
