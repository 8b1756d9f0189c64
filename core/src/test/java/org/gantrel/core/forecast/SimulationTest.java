package org.gantrel.core.forecast;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.PriorityQueue;
import java.util.Random;
import java.util.Set;
import org.gantrel.core.forecast.Coming.Part;
import org.gantrel.core.forecast.Coming.Standing;
import org.gantrel.core.forecast.Coming.Turn;
import org.gantrel.core.forecast.Simulation.Outcome;
import org.gantrel.core.run.Admission.Demand;
import org.gantrel.core.run.Admission.LaneNow;
import org.gantrel.core.run.Crowd;
import org.gantrel.core.run.Overlap;
import org.gantrel.core.run.Wait;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("The simulation of what is to come")
class SimulationTest {

    private static final Instant ONE = Instant.parse("2026-11-24T01:00:00Z");
    private static final Instant NOON = ONE.plus(Duration.ofHours(11));
    private static final Map<String, LaneNow> LANES = Map.of("cards", new LaneNow(1, Optional.empty()));

    private static Coming in(String lane, String job, int minute, int takes) {
        return Coming.single(
                job,
                "revenue",
                ONE.plusSeconds(60L * minute),
                new Demand(lane.isEmpty() ? Map.of() : Map.of(lane, 1), Crowd.of(job), Overlap.USUAL, Set.of()),
                Duration.ofMinutes(takes));
    }

    private static List<Outcome> play(int width, List<Coming> runs) {
        return Simulation.play(width, LANES, runs, ONE, NOON.plus(Duration.ofDays(9)))
                .outcomes();
    }

    private static List<String> times(List<Outcome> outcomes) {
        return outcomes.stream()
                .map(each -> each.run().job() + " "
                        + each.begins()
                                .map(at -> Duration.between(ONE, at).toMinutes() + "")
                                .orElse("-")
                        + "-"
                        + each.ends()
                                .map(at -> Duration.between(ONE, at).toMinutes() + "")
                                .orElse("-"))
                .toList();
    }

    @Test
    @DisplayName("lets runs wait for lanes, for each other and for places, and says for what")
    void waits() {
        var coming = List.of(
                in("cards", "settle", 0, 30),
                in("cards", "payout", 10, 10),
                in("", "settle", 20, 5),
                in("", "other", 20, 5));
        List<Outcome> outcomes = play(4, coming);
        assertThat(times(outcomes)).containsExactly("settle 0-30", "payout 30-40", "settle 30-35", "other 20-25");
        assertThat(outcomes.get(1).waitedFor().orElseThrow().text()).isEqualTo("a place in lane cards: 1 of 1 taken");
        assertThat(outcomes.get(2).waitedFor().orElseThrow().text()).isEqualTo("an earlier run of settle to end");
        assertThat(times(play(1, coming)))
                .containsExactly("settle 0-30", "payout 30-40", "settle 40-45", "other 45-50");
    }

    @Test
    @DisplayName("goes on from what is under way, and plays chains step by step")
    void playsChains() {
        Coming chain = chain(
                List.of(
                        Part.of(in("cards", "first", 0, 10), List.of()),
                        Part.of(in("", "second", 0, 20), List.of(0)),
                        Part.of(in("", "third", 0, 5), List.of(0))),
                Optional.empty());
        List<Outcome> outcomes = play(4, List.of(since(in("cards", "before", 0, 30), -20), chain));
        assertThat(times(outcomes)).containsExactly("before -20-10", "night 0-40");
    }

    private static Coming since(Coming run, int minute) {
        return run.as(new Standing(true, ONE.plusSeconds(60L * minute)));
    }

    @Test
    @DisplayName(
            "goes on in the middle of a chain, with any of its steps, with what nobody waits for, and until a time of day")
    void goesOn() {
        Coming rest = Coming.rest(
                "rest",
                "revenue",
                ONE,
                Duration.ZERO,
                new Bounds(List.of(), Optional.of(ONE.plusSeconds(60 * 45)), Optional.empty()));
        Coming chain = since(
                chain(
                        List.of(
                                Part.of(since(in("cards", "first", 0, 30), -20), List.of()),
                                Part.of(since(in("", "other", 0, 90), -10), List.of()),
                                new Part(in("cards", "any", 0, 5), List.of(0, 1), 1, false),
                                new Part(in("", "apart", 0, 300), List.of(2), 1, true),
                                Part.of(rest, List.of(3)),
                                Part.of(in("cards", "last", 0, 7), List.of(4))),
                        Optional.empty()),
                -20);
        Outcome outcome = play(4, List.of(in("cards", "before", 0, 10), chain)).get(1);
        // first until 10, before until 20, any until 25, the rest until 45, last until 52; other until 80
        assertThat(times(List.of(outcome))).containsExactly("night -20-80");
        assertThat(outcome.longest().orElseThrow().job()).isEqualTo("other");
        assertThat(outcome.longest().orElseThrow().length()).hasMinutes(80);
        assertThat(outcome.within().orElseThrow().job()).isEqualTo("any");
    }

    @Test
    @DisplayName("comes to the beginnings and ends that a plain queue for each lane comes to")
    void agreesWithQueues() {
        var random = new Random(4);
        List<String> names = List.of("one", "two", "three");
        Map<String, LaneNow> lanes = Map.of(
                "one", new LaneNow(1, Optional.empty()),
                "two", new LaneNow(2, Optional.empty()),
                "three", new LaneNow(3, Optional.empty()));
        for (int night = 0; night < 500; night++) {
            var coming = new ArrayList<Coming>();
            for (int i = 0; i < random.nextInt(1, 60); i++) {
                coming.add(in(names.get(random.nextInt(3)), "job-" + i, random.nextInt(120), random.nextInt(1, 30)));
            }
            List<Outcome> outcomes =
                    new ArrayList<>(Simulation.play(99, lanes, coming, ONE, NOON.plus(Duration.ofDays(9)))
                            .outcomes());
            // one priority, one team: in each lane first planned, first served
            outcomes.sort(Comparator.comparing((Outcome each) -> each.run().at()));
            Map<String, PriorityQueue<Instant>> free = new HashMap<>();
            for (Outcome each : outcomes) {
                String lane = each.run().demand().lanes().keySet().iterator().next();
                PriorityQueue<Instant> places = free.computeIfAbsent(
                        lane,
                        key -> new PriorityQueue<>(
                                Collections.nCopies(lanes.get(key).width(), Instant.EPOCH)));
                Instant place = places.poll();
                Instant begins = each.run().at().isAfter(place) ? each.run().at() : place;
                assertThat(each.begins()).contains(begins);
                places.add(begins.plus(each.run().takes()));
                assertThat(each.ends()).contains(begins.plus(each.run().takes()));
            }
        }
    }

    /** A job of the one lane in minutes, as a plain model plays it. */
    private static final class Plain {
        private final int ready;
        private final int takes;
        private final List<int[]> off;
        private final int windowEnd;
        private final Coming coming;
        private int begins = -1;
        private int ends = -1;
        private boolean skipped;

        private Plain(Random random, int number) {
            ready = random.nextInt(120);
            takes = random.nextInt(1, 30);
            off = new ArrayList<>();
            for (int i = random.nextInt(3); i > 0; i--) {
                int from = random.nextInt(180);
                // one in ten has no end, one in five skips
                off.add(new int[] {
                    from, from + (random.nextInt(10) == 0 ? NEVER : random.nextInt(1, 90)), random.nextInt(5)
                });
            }
            windowEnd = random.nextInt(4) == 0 ? ready + random.nextInt(1, 60) : NEVER;
            Coming plain = in("cards", "job-" + number, ready, takes);
            coming = new Coming(
                    plain.job(),
                    plain.team(),
                    plain.at(),
                    Optional.empty(),
                    5,
                    plain.demand(),
                    false,
                    plain.takes(),
                    Duration.ZERO,
                    List.of(),
                    new Bounds(off.stream().map(Plain::asOff).toList(), Optional.empty(), at(windowEnd)),
                    Turn.AS_PLANNED);
        }

        private static Bounds.Off asOff(int[] off) {
            Wait why = new Wait(Wait.Kind.HOLD, "1", "the end of a hold");
            return new Bounds.Off(ONE.plusSeconds(60L * off[0]), at(off[1]), off[2] == 0, why);
        }

        private static Optional<Instant> at(int minute) {
            return minute >= NEVER ? Optional.empty() : Optional.of(ONE.plusSeconds(60L * minute));
        }

        /** Whether it may begin in a minute, where there is room. */
        private boolean mayBegin(int minute) {
            if (minute < ready || begins >= 0 || skipped) {
                return false;
            }
            List<int[]> on = off.stream()
                    .filter(each -> each[0] <= minute && minute < each[1])
                    .toList();
            skipped = minute >= windowEnd || on.stream().anyMatch(each -> each[2] == 0);
            return !skipped && on.isEmpty();
        }
    }

    private static final int NEVER = 100_000;

    @Test
    @DisplayName("keeps runs back and skips them as holds and windows say, as a minute by minute model does")
    void keepsBack() {
        var random = new Random(12);
        int stuck = 0;
        for (int night = 0; night < 500; night++) {
            var all = new ArrayList<Plain>();
            for (int i = 0; i < random.nextInt(1, 25); i++) {
                all.add(new Plain(random, i));
            }
            List<Plain> inOrder = all.stream()
                    .sorted(Comparator.comparing((Plain each) -> each.ready))
                    .toList();
            int free = 0;
            for (int minute = 0; minute < 2_000; minute++) {
                for (Plain each : inOrder) {
                    if (each.mayBegin(minute) && minute >= free) {
                        each.begins = minute;
                        each.ends = Math.min(minute + each.takes, each.windowEnd);
                        free = each.ends;
                    }
                }
            }
            List<Outcome> outcomes =
                    play(99, all.stream().map(each -> each.coming).toList());
            for (int i = 0; i < all.size(); i++) {
                Plain plain = all.get(i);
                Outcome outcome = outcomes.get(i);
                assertThat(outcome.begins()).isEqualTo(plain.begins < 0 ? Optional.empty() : Plain.at(plain.begins));
                assertThat(outcome.ends()).isEqualTo(plain.ends < 0 ? Optional.empty() : Plain.at(plain.ends));
                assertThat(outcome.skipped()).isEqualTo(plain.skipped);
                assertThat(outcome.stuck().isPresent()).isEqualTo(plain.begins < 0 && !plain.skipped);
                stuck += outcome.stuck().isPresent() ? 1 : 0;
            }
        }
        assertThat(stuck).isPositive();
    }

    @Test
    @DisplayName("stops a chain with all its parts at the end of its window, and says which step keeps one for ever")
    void stopsChains() {
        var inner = List.of(
                Part.of(in("", "first", 0, 10), List.of()),
                Part.of(in("cards", "second", 0, 20), List.of(0)),
                Part.of(in("", "third", 0, 5), List.of(1)));
        Coming chain = chain(inner, Optional.of(ONE.plusSeconds(60 * 15)));
        List<Outcome> outcomes = play(4, List.of(chain, in("cards", "payout", 12, 10)));
        assertThat(times(outcomes)).containsExactly("night 0-15", "payout 15-25");
        Map<String, LaneNow> shut = Map.of("cards", new LaneNow(1, Optional.of("closed")));
        Instant until = NOON.plus(Duration.ofDays(9));
        Outcome open = Simulation.play(4, shut, List.of(chain(inner, Optional.empty())), ONE, until)
                .outcomes()
                .get(0);
        assertThat(open.ends()).isEmpty();
        assertThat(open.stuck().orElseThrow().job()).isEqualTo("second");
        assertThat(open.stuck().orElseThrow().what().orElseThrow().text()).isEqualTo("lane cards to open: closed");
        assertThat(open.within().orElseThrow().until()).isEqualTo(until);
    }

    private static Coming chain(List<Part> parts, Optional<Instant> windowEnd) {
        return new Coming(
                "night",
                "revenue",
                ONE,
                Optional.empty(),
                5,
                Demand.NOTHING,
                true,
                Duration.ZERO,
                Duration.ZERO,
                parts,
                new Bounds(List.of(), Optional.empty(), windowEnd),
                Turn.AS_PLANNED);
    }
}
