package org.gantrel.core.run;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.parameter.ParameterType;
import org.gantrel.core.run.RunStatus.Ended;
import org.gantrel.core.run.RunStatus.Waiting;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("What a run gives, and a run that goes on")
class GivenTest {

    private static final Instant NOW = Instant.parse("2026-11-24T01:00:00Z");

    @Test
    @DisplayName("is taken where it is as declared, or not declared at all")
    void isHeldAgainstWhatIsDeclared() {
        var declared = new LinkedHashMap<String, ParameterType>();
        declared.put("total", ParameterType.NUMBER);
        declared.put("day", ParameterType.DATE);
        declared.put("clean", ParameterType.YES_NO);
        Given fine = Given.of(declared, Map.of("total", "1.5", "day", "2026-11-24", "clean", "true", "more", "x"));
        assertThat(fine.complaints()).isEmpty();
        assertThat(fine.values()).hasSize(4);
        Given wrong = Given.of(declared, Map.of("total", "x".repeat(50), "clean", "maybe"));
        assertThat(wrong.values()).isEmpty();
        assertThat(wrong.complaints())
                .containsExactly(
                        "gave '" + "x".repeat(40) + "...' for total, which is not a number such as 12 or 0.5",
                        "gave no day",
                        "gave 'maybe' for clean, which is not yes or no");
    }

    @Test
    @DisplayName("is taken up again where it leads others, and never where it does work itself")
    void isTakenUpAgain() {
        var ended = new Ended(new Ending(RunState.FAILED, "step settle failed"), NOW.minusSeconds(60));
        var event = new RunEvent.TakenUp("mara", "from what had failed");
        assertThat(RunLife.on(ended, event, RunPolicy.PARENT, NOW)).hasValueSatisfying(move -> {
            assertThat(move.next()).isEqualTo(Waiting.TAKEN_UP);
            assertThat(RunLife.on(move.next(), new RunEvent.CancelAsked("mara"), RunPolicy.PARENT, NOW)
                            .orElseThrow()
                            .next())
                    .isEqualTo(new Ended(new Ending(RunState.CANCELLED, "cancelled by mara before it went on"), NOW));
            assertThat(move.effects()).containsExactly(new Effect.Note(NOW, "goes on from what had failed, by mara"));
        });
        assertThat(RunLife.on(ended, event, RunPolicy.task(Optional.empty()), NOW))
                .isEmpty();
        assertThat(RunLife.on(Waiting.FRESH, event, RunPolicy.PARENT, NOW)).isEmpty();
    }
}
