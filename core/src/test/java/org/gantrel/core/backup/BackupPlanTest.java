package org.gantrel.core.backup;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("A backup")
class BackupPlanTest {

    private static final ZoneId OSLO = ZoneId.of("Europe/Oslo");
    private static final Instant NOW = Instant.parse("2026-03-28T12:00:00Z");

    private final BackupPlan plan = new BackupPlan(LocalTime.of(2, 30), OSLO, 3);

    @Test
    @DisplayName("is made at once where there is none, then once a day, and an hour after one that failed")
    void next() {
        assertThat(plan.next(Optional.empty(), Optional.empty(), NOW)).isEqualTo(NOW);
        assertThat(plan.next(Optional.empty(), Optional.of(NOW), NOW)).isEqualTo(NOW.plus(Duration.ofHours(1)));
        // half past two is left out on this night
        assertThat(plan.next(Optional.of(NOW), Optional.empty(), NOW)).isEqualTo("2026-03-29T01:30:00Z");
        assertThat(plan.next(Optional.of(Instant.parse("2026-03-29T01:30:01Z")), Optional.empty(), NOW))
                .isEqualTo("2026-03-30T00:30:00Z");
        assertThat(plan.next(Optional.of(NOW), Optional.of(Instant.parse("2026-03-29T05:00:00Z")), NOW))
                .isEqualTo("2026-03-29T06:00:00Z");
    }

    @Test
    @DisplayName("that is made whenever it is due is made once on each day")
    void onceADay() {
        var random = new Random(7);
        for (int round = 0; round < 500; round++) {
            var own = new BackupPlan(LocalTime.of(random.nextInt(24), random.nextInt(60)), OSLO, 1);
            Instant made = NOW.plusSeconds(random.nextInt(400 * 86_400));
            Instant next = own.next(Optional.of(made), Optional.empty(), made);
            assertThat(next).isAfter(made).isBeforeOrEqualTo(made.plus(Duration.ofHours(25)));
            assertThat(own.next(Optional.of(next), Optional.empty(), next)
                            .atZone(OSLO)
                            .toLocalDate())
                    .isEqualTo(next.atZone(OSLO).toLocalDate().plusDays(1));
        }
    }

    @Test
    @DisplayName("is known by its name, and goes where there are newer ones enough; what is none stays")
    void goes() {
        assertThat(BackupPlan.name(NOW)).isEqualTo("gantrel-20260328T120000Z.zip");
        assertThat(BackupPlan.madeAt(BackupPlan.name(NOW))).contains(NOW);
        assertThat(BackupPlan.madeAt("gantrel-20269928T120000Z.zip")).isEmpty();
        List<String> names = List.of(
                BackupPlan.name(NOW),
                "letters.zip",
                BackupPlan.name(NOW.minusSeconds(1)),
                BackupPlan.name(NOW.minusSeconds(90_000)),
                BackupPlan.name(NOW.plusSeconds(9)));
        assertThat(plan.goes(names, NOW.plusSeconds(9))).containsExactly(BackupPlan.name(NOW.minusSeconds(90_000)));
        assertThat(plan.goes(names, NOW))
                .as("one of a time that is to come stands for none")
                .isEmpty();
    }
}
