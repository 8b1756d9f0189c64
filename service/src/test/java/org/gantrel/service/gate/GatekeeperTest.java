package org.gantrel.service.gate;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import java.io.IOException;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.LinkedBlockingQueue;
import org.gantrel.core.expression.Bindings;
import org.gantrel.core.expression.PlannedTime;
import org.gantrel.core.gate.Gate;
import org.gantrel.core.gate.Gates;
import org.gantrel.core.gate.Gates.Look;
import org.gantrel.core.run.RunState;
import org.gantrel.service.Await;
import org.gantrel.service.calendar.Calendars;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.RunValues;
import org.gantrel.service.run.Runs;
import org.gantrel.service.time.Waker;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("Gates that take their time to be looked at")
class GatekeeperTest {

    private static final Instant BEGIN = Instant.parse("2026-11-28T01:00:00Z");
    private static final Look SHUT = new Look(false, "it is not there");

    private final Clock clock = mock(Clock.class);
    private final Run run = mock(Run.class);
    private final BlockingQueue<Look> answers = new LinkedBlockingQueue<>();
    private final Gates gates = new Gates(
            List.of(new Gate.FileThere("/srv/a.csv", Duration.ZERO, "quay")),
            Duration.ofSeconds(10),
            Duration.ofSeconds(20),
            false);
    private Gatekeeper keeper;

    @BeforeEach
    void begin() throws IOException {
        when(run.number()).thenReturn(7L);
        when(run.plannedAt()).thenReturn(BEGIN);
        when(run.queuedAt()).thenReturn(BEGIN);
        when(run.again()).thenReturn(Optional.empty());
        when(run.startedAt()).thenReturn(Optional.empty());
        when(run.gatesSkipped()).thenReturn("");
        GateSight sight = mock(GateSight.class);
        when(sight.during(any(), any())).thenAnswer(call -> List.of(answers.take()));
        RunValues values = mock(RunValues.class);
        when(values.shown(any(), any())).thenReturn(new Bindings(Map.of(), new PlannedTime(BEGIN, ZoneOffset.UTC)));
        keeper = new Gatekeeper(
                sight,
                mock(GateLooks.class),
                mock(Runs.class),
                mock(Jobs.class),
                values,
                mock(Calendars.class),
                mock(OutsideSight.class),
                mock(Waker.class),
                clock);
    }

    @AfterEach
    void end() {
        keeper.destroy();
    }

    private Gatekeeper.Answer at(int seconds) {
        Instant now = BEGIN.plusSeconds(seconds);
        when(clock.instant()).thenReturn(now);
        return keeper.ask(run, gates, now);
    }

    private void sees(Look look) {
        answers.add(look);
        Await.until("it is seen", keeper::hasNews);
    }

    @Test
    @DisplayName("are looked at a last time when the patience is over, and what that sees counts")
    void lastLookCounts() {
        at(0);
        sees(SHUT);
        assertThat(at(1).next()).contains(BEGIN.plusSeconds(10));
        at(11);
        sees(SHUT);
        assertThat(at(12).next()).contains(BEGIN.plusSeconds(20));
        Gatekeeper.Answer last = at(20);
        assertThat(last.ending()).isEmpty();
        assertThat(last.next()).contains(BEGIN.plusSeconds(25));
        assertThat(at(24).ending()).isEmpty();
        sees(new Look(true, "it has 3 bytes"));
        assertThat(at(24)).isEqualTo(Gatekeeper.Answer.OPEN);
    }

    @Test
    @DisplayName("are not waited for without end, and what they saw before is told")
    void hang() {
        at(0);
        sees(SHUT);
        at(1);
        at(11);
        assertThat(at(19).ending()).isEmpty();
        assertThat(at(20).ending()).hasValueSatisfying(ending -> {
            assertThat(ending.state()).isEqualTo(RunState.FAILED);
            assertThat(ending.message())
                    .isEqualTo("waited 20 s for the file /srv/a.csv on the host of quay: it is not there");
        });
    }

    @Test
    @DisplayName("are looked at once where the patience ended while nobody could look")
    void afterwards() {
        assertThat(at(500).ending()).isEmpty();
        assertThat(at(504).ending()).isEmpty();
        sees(new Look(true, "it has 3 bytes"));
        assertThat(at(504)).isEqualTo(Gatekeeper.Answer.OPEN);
    }
}
