package org.gantrel.service.watch;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.gantrel.core.event.EventType;
import org.gantrel.core.job.JobScope;
import org.gantrel.core.trigger.Trigger;
import org.gantrel.service.trigger.Listening;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("A watch")
class WatchTest {

    private static final Instant NOW = Instant.parse("2026-11-26T06:00:00Z");

    private int rung;

    private Watch watch() {
        var trigger = new Trigger(
                "came",
                EventType.FILE_ARRIVED,
                new JobScope(List.of(), List.of(), List.of()),
                "",
                Set.of(),
                Trigger.Source.NONE,
                "",
                Map.of(),
                Duration.ZERO,
                Optional.empty(),
                Optional.empty());
        return new Watch(new Listening(1, "take-in", "timetable", trigger), "here", () -> rung++);
    }

    @Test
    @DisplayName("says once of each look that it does not come back")
    void hangs() {
        Watch watch = watch();
        assertThat(watch.hangs(NOW)).as("nothing is looked at").isFalse();
        watch.begin(NOW);
        assertThat(watch.hangs(NOW.plus(Watch.LONG).minusMillis(1))).isFalse();
        assertThat(watch.hangs(NOW.plus(Watch.LONG))).isTrue();
        assertThat(watch.hangs(NOW.plus(Watch.LONG))).isFalse();
        watch.failed(NOW.plusSeconds(300));
        assertThat(watch.hangs(NOW.plusSeconds(600))).isFalse();
        watch.begin(NOW.plusSeconds(600));
        assertThat(watch.hangs(NOW.plusSeconds(900))).isTrue();
    }

    @Test
    @DisplayName("looks at everything first, then at what it hears of, one look at a time, and not without a pause")
    void looksAtWhatItHears() {
        Watch watch = watch();
        assertThat(watch.begin(NOW)).isTrue();
        assertThat(watch.begin(NOW)).as("a look is under way").isFalse();
        assertThat(watch.take()).as("everything").isEmpty();
        watch.know(new HashMap<>(), true);
        watch.end(Instant.MAX, Set.of(), NOW.plusSeconds(2), NOW.plusSeconds(600));
        watch.accept(Set.of("a.csv"));
        watch.accept(Set.of("b.csv"));
        assertThat(rung).isEqualTo(2);
        assertThat(watch.begin(NOW.plusSeconds(1))).as("within the pause").isFalse();
        assertThat(watch.due()).isEqualTo(NOW.plusSeconds(2));
        assertThat(watch.begin(NOW.plusSeconds(2))).isTrue();
        assertThat(watch.take()).containsExactlyInAnyOrder("a.csv", "b.csv");
        watch.end(NOW.plusSeconds(7), Set.of("b.csv"), NOW.plusSeconds(3), NOW.plusSeconds(600));
        assertThat(watch.begin(NOW.plusSeconds(6))).isFalse();
        assertThat(watch.begin(NOW.plusSeconds(7))).isTrue();
        assertThat(watch.take()).as("what was not complete").containsExactly("b.csv");
    }

    @Test
    @DisplayName("looks at everything again when the clock was put back, and as often as ever from then on")
    void clockPutBack() {
        Watch watch = watch();
        watch.begin(NOW);
        watch.take();
        watch.know(new HashMap<>(), false);
        watch.end(Instant.MAX, Set.of(), NOW, NOW.plusSeconds(600));
        Instant back = NOW.minusSeconds(3_600);
        assertThat(watch.begin(back)).isTrue();
        assertThat(watch.take()).isEmpty();
        watch.end(Instant.MAX, Set.of(), back, back.plusSeconds(600));
        assertThat(watch.begin(back.plusSeconds(599))).isFalse();
        assertThat(watch.begin(back.plusSeconds(600))).isTrue();
    }

    @Test
    @DisplayName("looks at everything again when hints were lost, when a look failed, and now and then")
    void looksAtEverything() {
        Watch watch = watch();
        watch.begin(NOW);
        watch.take();
        watch.know(new HashMap<>(), false);
        watch.heard(true);
        watch.end(Instant.MAX, Set.of(), NOW, NOW.plusSeconds(600));
        watch.accept(null);
        assertThat(watch.isHeard()).as("the folder may be another one").isFalse();
        assertThat(watch.begin(NOW)).isTrue();
        watch.accept(Set.of("late.csv"));
        assertThat(watch.take()).isEmpty();
        watch.failed(NOW.plusSeconds(15));
        assertThat(watch.due()).isEqualTo(NOW.plusSeconds(15));
        assertThat(watch.begin(NOW.plusSeconds(15))).isTrue();
        assertThat(watch.take()).isEmpty();
        watch.end(Instant.MAX, Set.of(), NOW, NOW.plusSeconds(600));
        assertThat(watch.begin(NOW.plusSeconds(599))).isFalse();
        assertThat(watch.begin(NOW.plusSeconds(600))).isTrue();
        assertThat(watch.take()).isEmpty();
        watch.end(Instant.MAX, Set.of(), NOW, NOW.plusSeconds(1_200));
        var many = new HashSet<String>();
        for (int i = 0; i < 6_000; i++) {
            many.add("f" + i);
        }
        watch.accept(many);
        watch.begin(NOW.plusSeconds(700));
        assertThat(watch.take()).as("so many are looked at together").isEmpty();
    }
}
