package org.gantrel.core.run;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.LongStream;
import org.gantrel.core.run.Admission.Demand;
import org.gantrel.core.run.Admission.Held;
import org.gantrel.core.run.Admission.LaneNow;
import org.gantrel.core.run.Admission.Replaced;
import org.gantrel.core.run.Admission.Rows;
import org.gantrel.core.run.Admission.Running;
import org.gantrel.core.run.Admission.Snapshot;
import org.gantrel.core.run.Admission.Verdict;
import org.gantrel.core.run.Admission.WaitingRows;
import org.gantrel.core.run.Admission.WaitingRun;
import org.gantrel.core.run.Overlap.Mode;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("Admission")
class AdmissionTest {

    private static final Instant NOON = Instant.parse("2026-11-23T12:00:00Z");
    private static final Map<String, LaneNow> LANES = Map.of(
            "planning", new LaneNow(1, Optional.empty()),
            "cards", new LaneNow(3, Optional.empty()),
            "closed", new LaneNow(2, Optional.of("closed by mara")));

    private static WaitingRun task(long number, int planned) {
        return WaitingRun.plain(number, NOON.plusSeconds(planned), false);
    }

    private static WaitingRun inLanes(long number, String team, int priority, Map<String, Integer> lanes) {
        return new WaitingRun(
                number,
                team,
                NOON,
                NOON,
                false,
                priority,
                new Demand(lanes, Crowd.NONE, Overlap.USUAL, Set.of()),
                Optional.empty());
    }

    private static WaitingRun of(long number, String crowd, Mode mode, int sideBySide) {
        return new WaitingRun(
                number,
                "revenue",
                NOON,
                NOON,
                false,
                5,
                new Demand(Map.of(), Crowd.of(crowd), new Overlap(mode, sideBySide, List.of()), Set.of()),
                Optional.empty());
    }

    private static Running running(WaitingRun run) {
        return new Running(run.number(), run.team(), run.parent(), run.demand());
    }

    private static List<Running> busy(int tasks) {
        return LongStream.range(0, tasks)
                .mapToObj(i -> running(task(1_000 + i, 0)))
                .toList();
    }

    private static WaitingRows rows(long sweep, int rows, boolean parents, Map<String, Integer> lanes) {
        return new WaitingRows(
                sweep, rows, parents, "", 5, new Demand(lanes, Crowd.NONE, Overlap.USUAL, Set.of()), NOON);
    }

    private static Verdict decide(int width, List<Running> running, WaitingRun... runs) {
        return new Admission(width).decide(new Snapshot(NOON, running, List.of(runs), List.of(), LANES));
    }

    private static List<String> texts(Verdict verdict) {
        return verdict.held().stream()
                .map(held -> held.number() + ": " + held.by().text())
                .toList();
    }

    @Test
    @DisplayName("goes by the planned time, and tells those that wait for what")
    void goesInOrder() {
        Verdict verdict = decide(3, busy(1), task(3, 0), task(1, 60), task(2, 0));
        assertThat(verdict.begin()).containsExactly(2L, 3L);
        assertThat(texts(verdict)).containsExactly("1: a free place: 3 of 3 commands are running");
    }

    @Test
    @DisplayName("lets chains and sweeps begin though every place is taken: they only lead others")
    void parentsWeighNothing() {
        Verdict verdict = decide(1, busy(1), task(1, 0), WaitingRun.plain(9, NOON.plusSeconds(99), true));
        assertThat(verdict.begin()).containsExactly(9L);
        assertThat(verdict.moves()).isTrue();
    }

    @Test
    @DisplayName(
            "gives rows the places that no run waits for, turn about, and rows that are chains as many as they want")
    void sharesWithRows() {
        var sweeps = List.of(rows(5, 10, false, Map.of()), rows(6, 1, false, Map.of()), rows(7, 4, true, Map.of()));
        Verdict verdict =
                new Admission(8).decide(new Snapshot(NOON, busy(2), List.of(task(1, 0), task(2, 0)), sweeps, LANES));
        assertThat(verdict.begin()).containsExactly(1L, 2L);
        assertThat(verdict.rows()).containsExactly(new Rows(5, 3), new Rows(6, 1), new Rows(7, 4));
        var later = new Snapshot(NOON, busy(7), List.of(task(1, 60)), sweeps.subList(0, 2), LANES);
        assertThat(new Admission(8).decide(later).begin())
                .as("though the row was there before it")
                .containsExactly(1L);
        var inLane = List.of(rows(5, 10, false, Map.of("cards", 1)));
        assertThat(new Admission(8)
                        .decide(new Snapshot(NOON, List.of(), List.of(), inLane, LANES))
                        .rows())
                .containsExactly(new Rows(5, 3));
    }

    @Test
    @DisplayName("lets neither rows nor runs wait for ever, however many of the others of a higher priority come")
    void starvesNeitherRowsNorRuns() {
        Duration longest = Admission.STEP.multipliedBy(9);
        for (boolean rowsWait : List.of(true, false)) {
            Instant now = NOON;
            boolean begun = false;
            while (!begun) {
                // one place, free again; there is always another of the higher priority
                var runs = List.of(plain(1, rowsWait ? 9 : 1, rowsWait ? now : NOON));
                var rows = List.of(
                        new WaitingRows(5, 99, false, "", rowsWait ? 1 : 9, Demand.NOTHING, rowsWait ? NOON : now));
                Verdict verdict = new Admission(1).decide(new Snapshot(now, List.of(), runs, rows, LANES));
                begun = rowsWait ? !verdict.rows().isEmpty() : !verdict.begin().isEmpty();
                assertThat(verdict.rowsHeld()).hasSize(verdict.begin().size());
                assertThat(Duration.between(NOON, now)).isLessThanOrEqualTo(longest);
                now = now.plus(Duration.ofMinutes(5));
            }
            assertThat(Duration.between(NOON, now)).isGreaterThan(Admission.STEP.multipliedBy(8));
        }
    }

    private static WaitingRun plain(long number, int priority, Instant since) {
        return new WaitingRun(number, "", since, since, false, priority, Demand.NOTHING, Optional.empty());
    }

    @Test
    @DisplayName("lets a later run of a job wait, skips it, or has it take the earlier one's place")
    void keepsApart() {
        List<Running> earlier = List.of(running(of(41, "settle", Mode.WAIT, 1)));
        assertThat(texts(decide(4, earlier, of(42, "settle", Mode.WAIT, 1))))
                .containsExactly("42: run 41 of settle to end");
        assertThat(decide(4, earlier, of(42, "settle", Mode.WAIT, 2), of(43, "settle", Mode.WAIT, 2))
                        .begin())
                .containsExactly(42L);
        assertThat(decide(4, earlier, of(42, "settle", Mode.SKIP, 1)).skipped())
                .extracting(Held::number)
                .containsExactly(42L);
        Verdict replacing = decide(4, earlier, of(42, "settle", Mode.REPLACE, 1), of(43, "settle", Mode.REPLACE, 1));
        assertThat(replacing.replaced()).containsExactly(new Replaced(42, 43), new Replaced(41, 43));
        assertThat(decide(1, earlier, of(42, "settle", Mode.REPLACE, 1)).replaced())
                .as("though no place is free either")
                .containsExactly(new Replaced(41, 42));
        assertThat(decide(4, earlier, of(42, "settle with route north", Mode.WAIT, 1))
                        .begin())
                .containsExactly(42L);
    }

    @Test
    @DisplayName("fills lanes by priority and fairly between teams, and says who takes the places")
    void fillsLanes() {
        Map<String, Integer> cards = Map.of("cards", 1);
        var first = inLanes(1, "revenue", 5, cards);
        Verdict verdict = decide(
                9,
                List.of(running(first)),
                inLanes(2, "revenue", 5, cards),
                inLanes(3, "revenue", 5, cards),
                inLanes(4, "fleet", 5, cards),
                inLanes(5, "revenue", 6, cards));
        assertThat(verdict.begin()).containsExactly(5L, 4L);
        assertThat(texts(verdict))
                .containsExactly("2: a place in lane cards: 3 of 3 taken", "3: a place in lane cards: 3 of 3 taken");
        assertThat(texts(decide(
                        9,
                        List.of(),
                        inLanes(1, "fleet", 5, Map.of("closed", 1)),
                        inLanes(2, "fleet", 5, Map.of("gone", 1)),
                        inLanes(3, "fleet", 5, Map.of("planning", 2)))))
                .containsExactlyInAnyOrder(
                        "1: lane closed to open: closed by mara",
                        "2: lane gone, which is not there any more",
                        "3: lane planning to be widened: it takes 2 places, and the lane has 1");
    }

    @Test
    @DisplayName("keeps the places that come free for who is first, so that nobody is passed over for ever")
    void keepsPlaces() {
        var wide = inLanes(2, "revenue", 5, Map.of("cards", 3));
        Verdict verdict = decide(
                9,
                List.of(running(inLanes(1, "fleet", 5, Map.of("cards", 1)))),
                wide,
                inLanes(3, "revenue", 4, Map.of("cards", 1)));
        assertThat(verdict.begin()).isEmpty();
        assertThat(texts(verdict)).contains("3: its turn in lane cards");
        var old = new WaitingRun(
                7, "fleet", NOON, NOON.minus(Duration.ofHours(2)), false, 1, wide.demand(), Optional.empty());
        assertThat(new Admission(9)
                        .decide(new Snapshot(
                                NOON,
                                List.of(),
                                List.of(inLanes(8, "fleet", 8, Map.of("cards", 1)), old),
                                List.of(),
                                LANES))
                        .begin())
                .as("two hours count as eight priorities")
                .containsExactly(7L);
    }

    @Test
    @DisplayName("lets no parent begin that closes a circle of parents which hold what others need")
    void closesNoCircle() {
        var one = new WaitingRun(
                1,
                "revenue",
                NOON,
                NOON,
                true,
                5,
                new Demand(Map.of("planning", 1), Crowd.of("night"), Overlap.USUAL, Set.of(Admission.ofLane("cards"))),
                Optional.empty());
        var other = new WaitingRun(
                2,
                "revenue",
                NOON,
                NOON,
                true,
                5,
                new Demand(Map.of("cards", 3), Crowd.of("day"), Overlap.USUAL, Set.of(Admission.ofLane("planning"))),
                Optional.empty());
        Verdict verdict = decide(4, List.of(), one, other);
        assertThat(verdict.begin()).containsExactly(1L);
        assertThat(texts(verdict))
                .containsExactly("2: run 1 to end, which holds what its own steps need, and needs lane cards");
        var calm = new ArrayList<>(List.of(running(one)));
        calm.add(running(task(3, 0)));
        assertThat(decide(4, calm, inLanes(5, "revenue", 5, Map.of("cards", 1))).begin())
                .containsExactly(5L);
    }
}
