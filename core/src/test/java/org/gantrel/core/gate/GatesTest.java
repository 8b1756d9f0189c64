package org.gantrel.core.gate;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalTime;
import java.util.List;
import org.gantrel.core.gate.Gates.Look;
import org.gantrel.core.gate.Gates.Verdict;
import org.gantrel.core.run.Ending;
import org.gantrel.core.run.RunState;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

@DisplayName("Gates")
class GatesTest {

    private static final Instant ONE = Instant.parse("2026-11-24T01:00:00Z");
    private static final Gates GATES = new Gates(
            List.of(new Gate.FileThere("/srv/a.csv", Duration.ZERO, ""), new Gate.InCalendar("bank-days")),
            Duration.ofMinutes(5),
            Duration.ofHours(1),
            true);

    private static Verdict after(int minutes, Look... looks) {
        return GATES.decide(List.of(looks), ONE, ONE.plus(Duration.ofMinutes(minutes)));
    }

    @Test
    @DisplayName("open when all hold, and wait for the first that does not")
    void open() {
        assertThat(after(0, new Look(true, "it is there"), new Look(true, "it is one")))
                .isInstanceOf(Verdict.Open.class);
        assertThat(after(0, new Look(false, "it is not there")))
                .isEqualTo(new Verdict.Wait(ONE.plusSeconds(300), "the file /srv/a.csv: it is not there"));
        assertThat(after(58, new Look(true, ""), new Look(false, "it is Sunday")))
                .as("the last look is at the end of the patience")
                .isEqualTo(new Verdict.Wait(
                        ONE.plusSeconds(3_600), "a day and hour of the calendar bank-days: it is Sunday"));
    }

    @Test
    @DisplayName("are given up when the patience is over, as their job says")
    void givenUp() {
        Look shut = new Look(false, "it is not there");
        String message = "waited 1 h for the file /srv/a.csv: it is not there";
        assertThat(after(60, shut)).isEqualTo(new Verdict.GiveUp(new Ending(RunState.SKIPPED, message)));
        assertThat(new Gates(GATES.all(), GATES.lookEvery(), GATES.patience(), false)
                        .decide(List.of(shut), ONE, ONE.plusSeconds(4_000)))
                .isEqualTo(new Verdict.GiveUp(new Ending(RunState.FAILED, message)));
    }

    @ParameterizedTest(name = "between {0} and {1} at {2}: {3}")
    @CsvSource({
        "01:00, 05:30, 01:00, true",
        "01:00, 05:30, 05:30, false",
        "22:00, 05:30, 23:15, true",
        "22:00, 05:30, 04:00, true",
        "22:00, 05:30, 12:00, false"
    })
    void between(LocalTime from, LocalTime until, LocalTime at, boolean holds) {
        assertThat(new Gate.Between(from, until).holds(at)).isEqualTo(holds);
    }
}
