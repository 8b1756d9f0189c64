package org.gantrel.core.run;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Random;
import org.gantrel.core.run.Admission.Held;
import org.gantrel.core.run.Admission.Rows;
import org.gantrel.core.run.Admission.Snapshot;
import org.gantrel.core.run.Admission.Verdict;
import org.gantrel.core.run.Admission.WaitingRows;
import org.gantrel.core.run.Admission.WaitingRun;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("Admission")
class AdmissionTest {

    private static final Instant NOON = Instant.parse("2026-11-23T12:00:00Z");

    private static WaitingRun task(long number, int planned) {
        return new WaitingRun(number, NOON.plusSeconds(planned), false);
    }

    @Test
    @DisplayName("goes by the planned time, and tells those that wait for what")
    void goesInOrder() {
        Verdict verdict =
                new Admission(3).decide(new Snapshot(1, List.of(task(3, 0), task(1, 60), task(2, 0)), List.of()));
        assertThat(verdict.begin()).containsExactly(2L, 3L);
        assertThat(verdict.held()).containsExactly(new Held(1, "a free place: 3 of 3 commands are running"));
    }

    @Test
    @DisplayName("lets chains and sweeps begin though every place is taken: they only lead others")
    void parentsWeighNothing() {
        var chain = new WaitingRun(9, NOON.plusSeconds(99), true);
        Verdict verdict = new Admission(1).decide(new Snapshot(1, List.of(task(1, 0), chain), List.of()));
        assertThat(verdict.begin()).containsExactly(9L);
        assertThat(verdict.moves()).isTrue();
    }

    @Test
    @DisplayName(
            "gives rows the places that nobody waits for, turn about, and rows that are chains as many as they want")
    void sharesWithRows() {
        var sweeps = List.of(new WaitingRows(5, 10, false), new WaitingRows(6, 1, false), new WaitingRows(7, 4, true));
        Verdict verdict = new Admission(8).decide(new Snapshot(2, List.of(task(1, 0), task(2, 0)), sweeps));
        assertThat(verdict.begin()).containsExactly(1L, 2L);
        assertThat(verdict.rows()).containsExactly(new Rows(5, 3), new Rows(6, 1), new Rows(7, 4));
        assertThat(new Admission(2)
                        .decide(new Snapshot(2, List.of(), sweeps.subList(0, 1)))
                        .moves())
                .isFalse();
    }

    @Test
    @DisplayName("never overfills, passes nobody over, and leaves no place empty that somebody wants")
    void holdsInAnyNight() {
        var random = new Random(11);
        for (int night = 0; night < 2_000; night++) {
            int width = random.nextInt(1, 9);
            int underway = random.nextInt(0, width + 3);
            var runs = new ArrayList<WaitingRun>();
            for (int i = 0; i < random.nextInt(12); i++) {
                runs.add(new WaitingRun(i, NOON.plusSeconds(random.nextInt(5)), random.nextInt(4) == 0));
            }
            var sweeps = new ArrayList<WaitingRows>();
            for (int i = 0; i < random.nextInt(4); i++) {
                sweeps.add(new WaitingRows(100 + i, random.nextInt(1, 6), random.nextInt(4) == 0));
            }
            Verdict verdict = new Admission(width).decide(new Snapshot(underway, runs, sweeps));
            var begun = new HashSet<>(verdict.begin());
            long tasks = runs.stream()
                    .filter(run -> !run.parent() && begun.contains(run.number()))
                    .count();
            long rows = verdict.rows().stream()
                    .filter(each -> sweeps.stream().anyMatch(s -> s.sweep() == each.sweep() && !s.parents()))
                    .mapToLong(Rows::rows)
                    .sum();
            long wanted = runs.stream().filter(run -> !run.parent()).count()
                    + sweeps.stream()
                            .filter(s -> !s.parents())
                            .mapToLong(WaitingRows::rows)
                            .sum();
            assertThat(tasks + rows).isEqualTo(Math.min(Math.max(0, width - underway), wanted));
            assertThat(runs).allMatch(run -> !run.parent() || begun.contains(run.number()));
            for (WaitingRun held : runs) {
                if (!begun.contains(held.number())) {
                    assertThat(rows).isZero();
                    assertThat(runs)
                            .noneMatch(run -> !run.parent()
                                    && begun.contains(run.number())
                                    && WaitingRun.IN_ORDER.compare(run, held) > 0);
                }
            }
            assertThat(verdict.begin().size() + verdict.held().size()).isEqualTo(runs.size());
        }
    }
}
