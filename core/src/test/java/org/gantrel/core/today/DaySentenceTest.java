package org.gantrel.core.today;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.LocalTime;
import java.util.Map;
import org.gantrel.core.run.RunState;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("The sentence of the day")
class DaySentenceTest {

    @Test
    @DisplayName("says how many runs ended how, since when, and what is to come")
    void says() {
        assertThat(DaySentence.of(Map.of(), 0))
                .isEqualTo("No runs so far today. Nothing more is planned before midnight.");
        assertThat(DaySentence.of(Map.of(RunState.SUCCEEDED, 1L), 17))
                .isEqualTo("1 run so far today: 1 fine. 17 more before midnight.");
        assertThat(DaySentence.of(
                        Map.of(RunState.FAILED, 2L, RunState.WARNED, 1L, RunState.WAITING, 3L),
                        1,
                        LocalTime.of(19, 30, 59)))
                .isEqualTo("6 runs since yesterday 19:30: 0 fine, 1 with warnings, 2 failed, 3 waiting."
                        + " 1 more before midnight.");
    }

    @Test
    @DisplayName("claims no number that nobody has counted")
    void counts() {
        assertThat(DaySentence.of(Map.of(), DaySentence.MOST_COMING)).endsWith(" 20000 or even more before midnight.");
        assertThat(DaySentence.of(Map.of(), DaySentence.MOST_COMING - 1)).endsWith(" 19999 more before midnight.");
    }
}
