package org.gantrel.service.time;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("A clock that is put back")
class PutBackSenseTest {

    private static final Instant NOON = Instant.parse("2026-11-30T12:00:00Z");

    @Test
    @DisplayName("is noticed once, over a restart too, and not where it is put right by a little")
    void isNoticedOnce() {
        var sense = new PutBackSense(NOON);
        assertThat(sense.look(NOON.plusSeconds(5))).isEmpty();
        assertThat(sense.look(NOON.plusSeconds(3))).isEmpty();
        assertThat(sense.look(NOON)).contains(Duration.ofSeconds(3));
        assertThat(sense.look(NOON)).isEmpty();
        assertThat(sense.look(NOON.plus(Duration.ofDays(9)))).isEmpty();
        assertThat(new PutBackSense(NOON).look(NOON.minusSeconds(60))).contains(Duration.ofMinutes(1));
    }
}
