package org.gantrel.service.time;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Clock;
import java.time.Instant;
import java.time.ZoneId;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import org.gantrel.service.MovableClock;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

@DisplayName("A waker")
@Timeout(20)
class WakerTest {

    private static final Instant NOON = Instant.parse("2026-11-23T12:00:00Z");

    @Test
    @DisplayName("does not sleep past news that came before it lay down")
    void doesNotSleepPastNews() throws Exception {
        var waker = new Waker(new MovableClock(NOON));
        waker.wake();
        waker.sleepUntil(NOON.plusSeconds(3_600));
    }

    @Test
    @DisplayName("wakes at news, and sleeps again once it has heard them")
    void wakesAtNews() throws Exception {
        var waker = new Waker(new MovableClock(NOON));
        CompletableFuture<Void> sleeper = CompletableFuture.runAsync(() -> {
            try {
                waker.sleepUntil(NOON.plusSeconds(3_600));
            } catch (InterruptedException e) {
                throw new IllegalStateException(e);
            }
        });
        waker.wake();
        sleeper.get(10, TimeUnit.SECONDS);
    }

    @Test
    @DisplayName("wakes at its instant and not before")
    void wakesAtItsInstant() throws Exception {
        Instant wanted = Instant.now().plusMillis(150);
        new Waker(Clock.systemUTC()).sleepUntil(wanted);
        assertThat(Instant.now()).isAfterOrEqualTo(wanted);
        new Waker(Clock.systemUTC()).sleepUntil(Instant.now().minusSeconds(5));
    }

    @Test
    @DisplayName("and an absence says why nobody started what was due")
    void anAbsenceSaysWhy() {
        var absence = new Absence(NOON.minusSeconds(600), NOON);
        ZoneId oslo = ZoneId.of("Europe/Oslo");
        assertThat(absence.reasonMissed(NOON.minusSeconds(60), oslo))
                .isEqualTo("the service was down from 23 Nov 12:50:00 to 23 Nov 13:00:00");
        assertThat(absence.reasonMissed(NOON.plusSeconds(600), oslo))
                .isEqualTo("the service was too busy to start it in time");
    }
}
