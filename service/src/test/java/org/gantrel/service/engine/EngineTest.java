package org.gantrel.service.engine;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.ArgumentMatchers.anyInt;
import static org.mockito.Mockito.inOrder;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.never;
import static org.mockito.Mockito.verify;
import static org.mockito.Mockito.when;

import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.gantrel.service.execution.Execution;
import org.gantrel.service.run.RunRecord;
import org.gantrel.service.run.Runs;
import org.gantrel.service.schedule.Accounting;
import org.gantrel.service.settings.Settings;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("A step of the engine")
class EngineTest {

    private static final Instant NOON = Instant.parse("2026-11-23T12:00:00Z");

    private final Accounting accounting = mock(Accounting.class);
    private final Runs runs = mock(Runs.class);
    private final Execution execution = mock(Execution.class);
    private final ChainRuns chains = mock(ChainRuns.class);
    private final Engine engine =
            new Engine(accounting, runs, execution, chains, mock(SweepRuns.class), Settings.usual(Path.of("x")));

    @BeforeEach
    void nothingIsDue() {
        when(accounting.next()).thenReturn(Optional.empty());
        when(execution.next()).thenReturn(Instant.MAX);
        when(runs.waiting(anyInt())).thenReturn(List.of());
    }

    private static RunRecord waiting(long number, boolean chain) {
        RunRecord run = mock(RunRecord.class);
        when(run.number()).thenReturn(number);
        when(run.plannedAt()).thenReturn(NOON);
        when(run.isChain()).thenReturn(chain);
        return run;
    }

    @Test
    @DisplayName("accounts for what is due before it looks at what waits, and sees exits before it fills their places")
    void goesInOrder() {
        RunRecord task = waiting(7, false);
        when(runs.waiting(anyInt())).thenReturn(List.of(task)).thenReturn(List.of());
        engine.step(NOON);
        var order = inOrder(accounting, execution, chains);
        order.verify(accounting).account(NOON);
        order.verify(execution).attend(NOON);
        order.verify(chains).lead(NOON);
        order.verify(execution).start(List.of(7L), NOON);
    }

    @Test
    @DisplayName("goes on within itself until nothing new begins, so that a chain's first step needs no other")
    void goesOnUntilNothingBegins() {
        RunRecord chain = waiting(1, true);
        RunRecord step = waiting(2, false);
        when(runs.waiting(anyInt()))
                .thenReturn(List.of(chain))
                .thenReturn(List.of(step))
                .thenReturn(List.of());
        engine.step(NOON);
        verify(chains).start(1, NOON);
        verify(execution).start(List.of(2L), NOON);
    }

    @Test
    @DisplayName("lets a run wait where no place is free, and says so")
    void letsARunWait() {
        RunRecord task = waiting(7, false);
        when(runs.waiting(anyInt())).thenReturn(List.of(task));
        when(execution.size()).thenReturn(16);
        engine.step(NOON);
        verify(execution, never()).start(any(), any());
        verify(runs).waitFor(7, "a free place: 16 of 16 commands are running");
    }

    @Test
    @DisplayName("says when to look again: at the next occurrence or the next limit, whichever comes first")
    void saysWhenToLookAgain() {
        assertThat(engine.step(NOON)).isEqualTo(Instant.MAX);
        when(accounting.next()).thenReturn(Optional.of(NOON.plusSeconds(60)));
        assertThat(engine.step(NOON)).isEqualTo(NOON.plusSeconds(60));
        when(execution.next()).thenReturn(NOON.plusSeconds(5));
        assertThat(engine.step(NOON)).isEqualTo(NOON.plusSeconds(5));
    }

    @Test
    @DisplayName("stops what was asked to stop, with the steps of a chain")
    void stopsWhatWasAsked() {
        when(chains.stop(3, NOON)).thenReturn(List.of(4L));
        when(chains.stop(4, NOON)).thenReturn(List.of());
        engine.stop(3);
        engine.step(NOON);
        verify(execution).stop(3, NOON);
        verify(execution).stop(4, NOON);
    }
}
