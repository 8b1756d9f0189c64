package org.gantrel.service.retention;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import java.time.Duration;
import java.time.Instant;
import org.gantrel.service.time.Absence;
import org.gantrel.service.time.Presence;
import org.gantrel.service.time.Stopwatch;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("What is old is let go")
class TrustInClockTest {

    private static final Instant NOON = Instant.parse("2026-11-30T12:00:00Z");

    private long nanos = 5;
    private Instant now = NOON;

    private TrustInClock after(Duration away) {
        Presence presence = mock(Presence.class);
        when(presence.absence()).thenReturn(new Absence(NOON.minus(away), NOON));
        return new TrustInClock(presence, new Stopwatch() {
            @Override
            public long nanos() {
                return nanos;
            }
        });
    }

    private Instant passes(Duration time) {
        nanos += time.toNanos();
        now = now.plus(time);
        return now;
    }

    @Test
    @DisplayName("at once after a week's absence, and a day after a clock that is years ahead")
    void trusts() {
        TrustInClock trust = after(Duration.ofDays(7));
        assertThat(trust.isTrusted(now)).isTrue();
        assertThat(trust.isTrusted(passes(Duration.ofDays(40)))).isTrue();
        now = now.plus(Duration.ofDays(3_650));
        assertThat(trust.isTrusted(now)).isFalse();
        assertThat(trust.isTrusted(passes(Duration.ofHours(23)))).isFalse();
        assertThat(trust.isTrusted(passes(Duration.ofHours(1)))).isTrue();
    }

    @Test
    @DisplayName("a day after a start that may be years later")
    void trustsAfterAStart() {
        TrustInClock trust = after(Duration.ofDays(400));
        assertThat(trust.isTrusted(now)).isFalse();
        now = now.minus(Duration.ofDays(400));
        assertThat(trust.isTrusted(passes(Duration.ofMinutes(15)))).isFalse();
        assertThat(trust.isTrusted(passes(Duration.ofDays(1)))).isTrue();
    }
}
