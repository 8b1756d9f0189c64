package org.gantrel.service.time;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

@DisplayName("A waker")
@Timeout(120)
class WakerTest {

    private static final Instant NOON = Instant.parse("2026-11-23T12:00:00Z");

    @Test
    @DisplayName("does not sleep past news that came before it lay down")
    void doesNotSleepPastNews() throws Exception {
        var waker = new Waker();
        waker.wake();
        waker.sleep(Duration.ofHours(1));
    }

    @Test
    @DisplayName("wakes at news, and sleeps again once it has heard them")
    void wakesAtNews() throws Exception {
        var waker = new Waker();
        CompletableFuture<Void> sleeper = CompletableFuture.runAsync(() -> {
            try {
                waker.sleep(Duration.ofHours(1));
            } catch (InterruptedException e) {
                throw new IllegalStateException(e);
            }
        });
        waker.wake();
        sleeper.get(90, TimeUnit.SECONDS);
    }

    @Test
    @DisplayName("wakes after its time and not before, whatever the clock says")
    void wakesAfterItsTime() throws Exception {
        long begin = System.nanoTime();
        new Waker().sleep(Duration.ofMillis(150));
        assertThat(Duration.ofNanos(System.nanoTime() - begin)).isGreaterThanOrEqualTo(Duration.ofMillis(150));
        new Waker().sleep(Duration.ofSeconds(-5));
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
