package org.gantrel.core.lane;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import org.gantrel.core.lane.Crowding.Crowd;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("A lane is crowded")
class CrowdingTest {

    private static final Instant BEGIN = Instant.parse("2026-11-23T01:00:00Z");

    private static Instant at(int minutes) {
        return BEGIN.plus(Duration.ofMinutes(minutes));
    }

    @Test
    @DisplayName("when somebody has waited for ten minutes on end; that is told once, and again after a calm time")
    void isToldOnce() {
        var crowding = new Crowding();
        assertThat(crowding.look(Map.of("printer", Set.of(1L, 2L)), at(0))).isEmpty();
        assertThat(crowding.look(Map.of("printer", Set.of(2L, 3L)), at(9))).isEmpty();
        assertThat(crowding.look(Map.of("printer", Set.of(2L, 3L)), at(10)))
                .containsExactly(new Crowd("printer", 2, Duration.ofMinutes(10), 2));
        assertThat(crowding.look(Map.of("printer", Set.of(2L, 3L)), at(15))).isEmpty();
        // the next in turn has waited for long enough too: it is the same crowd
        assertThat(crowding.look(Map.of("printer", Set.of(3L)), at(20))).isEmpty();
        assertThat(crowding.look(Map.of(), at(21))).isEmpty();
        assertThat(crowding.look(Map.of("printer", Set.of(9L)), at(22))).isEmpty();
        assertThat(crowding.look(Map.of("printer", Set.of(9L)), at(32)))
                .extracting(Crowd::lane)
                .containsExactly("printer");
    }

    @Test
    @DisplayName("as anybody would find out who writes down who waits since when")
    void agreesWithANaiveReading() {
        for (int seed = 0; seed < 300; seed++) {
            var random = new Random(seed);
            var crowding = new Crowding();
            Map<Long, Integer> since = new HashMap<>();
            boolean crowded = false;
            for (int minute = 0; minute < 90; minute++) {
                Set<Long> now = new HashSet<>(since.keySet());
                for (long run = 0; run < 4; run++) {
                    if (random.nextInt(12) == 0) {
                        if (!now.remove(run)) {
                            now.add(run);
                        }
                    }
                }
                since.keySet().retainAll(now);
                int at = minute;
                now.forEach(run -> since.putIfAbsent(run, at));
                boolean longOne = since.values().stream().anyMatch(first -> at - first >= 10);
                List<Crowd> told = crowding.look(now.isEmpty() ? Map.of() : Map.of("a", now), at(minute));
                assertThat(told).as("seed %d, minute %d", seed, minute).hasSize(longOne && !crowded ? 1 : 0);
                crowded = longOne;
            }
        }
    }
}
