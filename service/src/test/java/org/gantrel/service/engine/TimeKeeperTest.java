package org.gantrel.service.engine;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.gantrel.service.engine.TimeKeeper.Due;
import org.gantrel.service.engine.TimeKeeper.What;
import org.gantrel.service.execution.Supervisor;
import org.gantrel.service.time.Stopwatch;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("A run whose time is over")
class TimeKeeperTest {

    private static final Instant NIGHT = Instant.parse("2026-11-23T01:00:00Z");
    private static final List<Due> DUE =
            List.of(new Due(41, What.TASK), new Due(42, What.PARENT), new Due(43, What.WINDOW));

    private final Supervisor supervisor = mock(Supervisor.class);
    private final Stopwatch watch = mock(Stopwatch.class);
    private long nanos;
    private TimeKeeper times;

    @BeforeEach
    void begin() {
        when(watch.nanos()).thenAnswer(call -> nanos);
        when(supervisor.due()).thenReturn(List.of(41L));
        var parents = new ParentTimes(watch);
        var windows = new Windows();
        parents.lookAgain(42, Duration.ZERO);
        windows.lookAt(43, NIGHT);
        times = new TimeKeeper(supervisor, parents, windows, watch);
    }

    private void wakeAfter(Duration asleep) {
        nanos += asleep.toNanos();
        times.wakes();
    }

    @Test
    @DisplayName("is named at once where the engine woke when it wanted to")
    void isNamed() {
        times.sleeps(Duration.ofSeconds(4));
        wakeAfter(Duration.ofSeconds(5));
        assertThat(times.due(NIGHT)).isEqualTo(DUE);
    }

    @Test
    @DisplayName("is named a second later where the engine was kept from waking: its end may not be told yet")
    void isNamedWhenEndsAreHeardOf() {
        times.sleeps(Duration.ofHours(1));
        wakeAfter(Duration.ofSeconds(8));
        assertThat(times.due(NIGHT)).isEmpty();
        assertThat(times.next(NIGHT)).contains(Duration.ofSeconds(1));
        times.sleeps(Duration.ofSeconds(1));
        wakeAfter(Duration.ofSeconds(1));
        assertThat(times.due(NIGHT)).isEqualTo(DUE);
    }

    @Test
    @DisplayName("is named in the end though the engine is always late, and at once where it was overdue")
    void isNamedInTheEnd() {
        times.sleeps(Duration.ofHours(-2));
        wakeAfter(Duration.ZERO);
        assertThat(times.hearing()).isEmpty();
        times.sleeps(Duration.ZERO);
        wakeAfter(Duration.ofSeconds(3));
        assertThat(times.due(NIGHT)).isEmpty();
        times.sleeps(Duration.ZERO);
        wakeAfter(Duration.ofSeconds(3));
        assertThat(times.due(NIGHT)).isEqualTo(DUE);
        times.sleeps(Duration.ZERO);
        wakeAfter(Duration.ofSeconds(3));
        assertThat(times.hearing()).isPresent();
    }

    @Test
    @DisplayName("is named when it is known, or not to be known soon, what ended while no service ran")
    void isNamedWhenAllAreFoundAgain() {
        when(supervisor.hearing()).thenReturn(Optional.of(Duration.ofSeconds(9)));
        times.sleeps(Duration.ZERO);
        wakeAfter(Duration.ZERO);
        assertThat(times.due(NIGHT)).isEmpty();
        assertThat(times.next(NIGHT)).contains(Duration.ofSeconds(9));
        when(supervisor.hearing()).thenReturn(Optional.empty());
        assertThat(times.due(NIGHT)).isEqualTo(DUE);
        assertThat(times.next(NIGHT)).isEmpty();
    }
}
