package org.gantrel.service.notification;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Optional;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("A delivery")
class DeliveryRecordTest {

    @Test
    @DisplayName("is tried again after pauses that double, and given up after the twelfth try")
    void isTriedAgain() {
        Instant now = Instant.parse("2026-11-23T12:00:00Z");
        var delivery = new DeliveryRecord(
                Optional.of(7L),
                new Message(
                        Message.MAIL,
                        "duty@example.org",
                        "first",
                        "",
                        "",
                        Optional.empty(),
                        Optional.of(1001L),
                        1,
                        "failed",
                        "it failed",
                        ""),
                now,
                now);
        var pauses = new ArrayList<Long>();
        while (delivery.isWaiting()) {
            delivery.failed("nobody answers", now);
            Instant next = delivery.nextTryAt();
            if (next != null) {
                pauses.add(Duration.between(now, next).toSeconds());
            }
        }
        assertThat(pauses).containsExactly(10L, 20L, 40L, 80L, 160L, 320L, 640L, 1280L, 2560L, 2560L, 2560L);
        assertThat(delivery.nextTryAt()).isNull();
    }
}
