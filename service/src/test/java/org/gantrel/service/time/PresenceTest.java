package org.gantrel.service.time;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import org.gantrel.service.MovableClock;
import org.gantrel.service.TestSettings;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

@DisplayName("When the service was seen last")
class PresenceTest {

    private static final Instant NOON = Instant.parse("2026-11-30T12:00:00Z");

    @Test
    @DisplayName("stays the later time where the clock was put back, until all is done that follows from it")
    void staysTheLater(@TempDir Path folder) throws Exception {
        var settings = TestSettings.in(folder, 4);
        var clock = new MovableClock(NOON);
        new Presence(settings, clock).touch(NOON.plusSeconds(5));
        clock.moveBy(Duration.ofHours(-1));
        var back = new Presence(settings, clock);
        back.touch(clock.instant());
        // killed before anything was done
        assertThat(new Presence(settings, clock).absence().from()).isEqualTo(NOON.plusSeconds(5));
        back.follow(clock.instant());
        assertThat(new Presence(settings, clock).absence().from()).isEqualTo(clock.instant());
    }
}
