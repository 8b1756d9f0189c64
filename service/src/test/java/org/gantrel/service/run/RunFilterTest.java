package org.gantrel.service.run;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.gantrel.core.run.CauseKind;
import org.gantrel.core.run.RunState;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("A filter of runs")
class RunFilterTest {

    @Test
    @DisplayName("becomes conditions whose values never stand in the text of the query")
    void becomesConditions() {
        RunFilter filter = RunFilter.of(Map.of(
                "job", "x' or '1'='1", "state", "failed, timed-out", "q", "50% Done", "since", "2026-11-23T06:00:00Z"));
        Map<String, Object> values = new HashMap<>();
        String conditions = filter.conditions(values);
        assertThat(conditions)
                .contains("r.state in :state", "r.plannedAt >= :since")
                .doesNotContain("1'='1");
        assertThat(values)
                .containsEntry("job", "x' or '1'='1")
                .containsEntry("state", List.of(RunState.FAILED, RunState.TIMED_OUT))
                .containsEntry("since", Instant.parse("2026-11-23T06:00:00Z"))
                .containsEntry("text0", "50")
                .containsEntry("text1", "done");
    }

    @Test
    @DisplayName("leaves the rows of sweeps out where they are not wanted, and only then")
    void leavesRowsOut() {
        Map<String, Object> values = new HashMap<>();
        assertThat(RunFilter.of(Map.of("rows", "no")).conditions(values)).contains("r.cause <> :row");
        assertThat(values).containsEntry("row", CauseKind.SWEEP);
        assertThat(RunFilter.of(Map.of("rows", "yes")).conditions(new HashMap<>()))
                .isEmpty();
        assertThatThrownBy(() -> RunFilter.of(Map.of("rows", "some"))).hasMessageContaining("rows: 'some': yes, or no");
    }

    @Test
    @DisplayName("that is wrong names every parameter that is")
    void thatIsWrong() {
        assertThatThrownBy(() -> RunFilter.of(Map.of("state", "faild", "cause", "magic", "until", "soon", "stat", "x")))
                .hasMessageContaining("state: 'faild' is no state")
                .hasMessageContaining("cause: 'magic' is no cause of a run")
                .hasMessageContaining("until: 'soon': an instant")
                .hasMessageContaining("stat: is no filter; did you mean 'state'?");
        assertThatThrownBy(() -> RunFilter.of(Map.of("q", "a b c d e f g h i")))
                .hasMessageContaining("at most 8 words");
    }
}
