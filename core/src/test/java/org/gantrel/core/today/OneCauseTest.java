package org.gantrel.core.today;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Set;
import org.gantrel.core.run.RunState;
import org.gantrel.core.today.OneCause.Bad;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("What ended badly for one cause")
class OneCauseTest {

    private static Bad failed(long run, String job, String... steps) {
        return new Bad(run, job, RunState.FAILED, "exit code 1", Set.of(steps));
    }

    private static Bad missed(long run, String job, String why) {
        return new Bad(run, job, RunState.MISSED, why, Set.of());
    }

    private static List<List<Long>> numbers(Bad... runs) {
        return OneCause.group(List.of(runs)).stream()
                .map(group -> group.stream().map(Bad::run).toList())
                .toList();
    }

    @Test
    @DisplayName("is one thing: what an outage missed, and a chain with what failed in it, the cause first")
    void goesTogether() {
        assertThat(numbers(
                        missed(9, "a", "the service was down from 1 to 2"),
                        failed(8, "night", "settle"),
                        missed(7, "b", "the service was down from 1 to 2"),
                        failed(6, "settle"),
                        missed(5, "c", "the service was down from 5 to 6")))
                .containsExactly(List.of(9L, 7L), List.of(6L, 8L), List.of(5L));
        assertThat(numbers(failed(3, "month", "night"), failed(2, "night", "settle"), failed(1, "settle")))
                .containsExactly(List.of(1L, 3L, 2L));
    }

    @Test
    @DisplayName("is not found where there is only the same message, and circles end")
    void staysApart() {
        assertThat(numbers(failed(2, "a"), failed(1, "b"))).containsExactly(List.of(2L), List.of(1L));
        assertThat(numbers(failed(2, "a", "b"), failed(1, "b", "a")).stream().flatMap(List::stream))
                .containsExactlyInAnyOrder(1L, 2L);
        assertThat(numbers(failed(1, "a", "a"))).containsExactly(List.of(1L));
    }
}
