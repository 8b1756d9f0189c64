package org.gantrel.core.chain;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import org.gantrel.core.chain.ChainWalk.Takes;
import org.gantrel.core.chain.StepNow.Place;
import org.gantrel.core.job.Step;
import org.gantrel.core.job.Step.FollowsOn;
import org.gantrel.core.job.Step.Link;
import org.gantrel.core.run.Admission.Demand;
import org.gantrel.core.run.Admission.LaneNow;
import org.gantrel.core.run.Crowd;
import org.gantrel.core.run.Ending;
import org.gantrel.core.run.Overlap;
import org.gantrel.core.run.Overlap.Mode;
import org.gantrel.core.run.RunState;
import org.gantrel.core.run.RunStatus.Stop;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("Any chain")
class ChainGraphsTest {

    private static final List<RunState> ENDS =
            List.of(RunState.SUCCEEDED, RunState.SUCCEEDED, RunState.WARNED, RunState.FAILED, RunState.SKIPPED);

    /** One round of a random chain, played by the engine's decisions beside a model that asks every step anew. */
    private static final class Night {
        private final Random random;
        private final List<Step> steps;
        private final Map<String, StepNow> known = new HashMap<>();
        private final Set<String> begun = new HashSet<>();
        private Stop stop = Stop.NO;

        Night(Random random) {
            this.random = random;
            this.steps = graph(random);
        }

        /** A condition says of which step it speaks, and holds where that one went well. */
        private boolean holds(String condition) {
            StepNow spoken = known.get(condition);
            return spoken != null && spoken.isEnded() && spoken.state().isGood();
        }

        private ChainCourse course() {
            return new ChainCourse(steps, known, stop, false, this::holds);
        }

        Ending play() {
            for (int moves = 0; moves < 1_000; moves++) {
                ChainCourse course = course();
                Set<String> ready = new HashSet<>();
                Set<String> out = new HashSet<>();
                model(ready, out);
                assertThat(course.beginning()).extracting(Step::name).containsExactlyInAnyOrderElementsOf(ready);
                assertThat(course.settled())
                        .extracting(each -> each.step().name())
                        .containsExactlyInAnyOrderElementsOf(out);
                course.settled().forEach(each -> {
                    assertThat(each.why()).isNotBlank();
                    known.put(each.step().name(), each.now());
                });
                Optional<Ending> ending = course.ending();
                if (ending.isPresent()) {
                    assertThat(course.beginning()).isEmpty();
                    return ending.get();
                }
                for (Step step : course.beginning()) {
                    assertThat(begun.add(step.name()))
                            .as("%s begins once", step.name())
                            .isTrue();
                    known.put(step.name(), new StepNow(Place.UNDER_WAY, RunState.RUNNING));
                }
                endOne();
                if (random.nextInt(60) == 0 && !stop.isAsked()) {
                    stop = new Stop(Stop.Why.CANCEL, "mara");
                }
            }
            throw new AssertionError("it goes on for ever: " + steps);
        }

        private void endOne() {
            List<String> going = steps.stream()
                    .map(Step::name)
                    .filter(name -> known.containsKey(name) && known.get(name).place() == Place.UNDER_WAY)
                    .toList();
            assertThat(going).as("something runs, or it has ended").isNotEmpty();
            known.put(
                    going.get(random.nextInt(going.size())),
                    StepNow.of(stop.isAsked() ? RunState.CANCELLED : ENDS.get(random.nextInt(ENDS.size()))));
        }

        /** What begins and what cannot: found by asking again and again until nothing changes. */
        private void model(Set<String> ready, Set<String> out) {
            boolean changed = true;
            while (changed) {
                changed = false;
                for (Step step : steps) {
                    String name = step.name();
                    if (known.containsKey(name) || ready.contains(name) || out.contains(name)) {
                        continue;
                    }
                    if (step.last() ? !mainIsThrough(out) : stop.isAsked()) {
                        continue;
                    }
                    long hold = step.links().stream()
                            .filter(link -> state(link, out) > 0)
                            .count();
                    long broken = step.links().stream()
                            .filter(link -> state(link, out) < 0)
                            .count();
                    boolean met = hold >= step.needed();
                    if (met && (step.when().isEmpty() || holds(step.when()))) {
                        changed |= ready.add(name);
                    } else if (met || step.links().size() - broken < step.needed()) {
                        changed |= out.add(name);
                    }
                }
            }
        }

        private boolean mainIsThrough(Set<String> out) {
            return steps.stream()
                    .filter(step -> !step.last())
                    .allMatch(step -> out.contains(step.name())
                            || (known.containsKey(step.name())
                                    ? known.get(step.name()).isSettled()
                                    : stop.isAsked()));
        }

        /** 1 where a link holds, -1 where it never will, 0 where that is open. */
        private int state(Link link, Set<String> out) {
            StepNow before = known.get(link.after());
            boolean gone = out.contains(link.after())
                    || before != null && before.place() == Place.OUT_OF_REACH
                    || before == null && stop.isAsked() && isMain(link.after());
            if (gone) {
                return link.on() == FollowsOn.ANY ? 1 : -1;
            }
            if (before == null || !before.isEnded()) {
                return 0;
            }
            boolean right =
                    switch (link.on()) {
                        case SUCCESS -> !before.state().isBad();
                        case FAILURE -> before.state().isBad();
                        case WARNINGS -> before.state() == RunState.WARNED;
                        case ANY -> true;
                    };
            return right && (link.when().isEmpty() || holds(link.when())) ? 1 : -1;
        }

        private boolean isMain(String name) {
            return steps.stream().anyMatch(step -> step.name().equals(name) && !step.last());
        }

        /** The written rule of a chain's outcome, word for word. */
        RunState outcome() {
            if (stop.isAsked()) {
                return RunState.CANCELLED;
            }
            boolean warned = false;
            for (Step step : steps) {
                StepNow now = known.get(step.name());
                if (!step.matters() || now == null || !now.isEnded()) {
                    continue;
                }
                if (now.state().isBad()) {
                    boolean seenTo = steps.stream()
                            .filter(other -> other.matters()
                                    && known.containsKey(other.name())
                                    && known.get(other.name()).isEnded()
                                    && known.get(other.name()).state().isGood())
                            .flatMap(other -> other.links().stream())
                            .anyMatch(link -> link.after().equals(step.name()) && link.on() == FollowsOn.FAILURE);
                    if (!seenTo) {
                        return RunState.FAILED;
                    }
                    warned = true;
                }
                warned |= now.state() == RunState.WARNED;
            }
            return warned ? RunState.WARNED : RunState.SUCCEEDED;
        }
    }

    private static List<Step> graph(Random random) {
        List<Step> steps = new ArrayList<>();
        int size = random.nextInt(1, 13);
        int lasts = random.nextInt(3);
        for (int i = 0; i < size + lasts; i++) {
            boolean last = i >= size;
            List<Link> links = new ArrayList<>();
            for (int j = last ? size : 0; j < i; j++) {
                if (random.nextInt(4) == 0) {
                    String when = random.nextInt(6) == 0 ? "s" + j : "";
                    links.add(new Link("s" + j, FollowsOn.values()[random.nextInt(4)], when));
                }
            }
            int join = links.isEmpty() || random.nextBoolean() ? Step.ALL : random.nextInt(1, links.size() + 1);
            String when =
                    !links.isEmpty() && random.nextInt(8) == 0 ? links.get(0).after() : "";
            steps.add(new Step(
                    "s" + i,
                    new Step.Runs("job", "", Map.of()),
                    links,
                    join,
                    when,
                    last,
                    random.nextInt(5) > 0,
                    false,
                    Optional.empty(),
                    Step.Own.NOTHING));
        }
        java.util.Collections.shuffle(steps, random);
        return steps;
    }

    @Test
    @DisplayName("begins no step before its links hold, none twice, comes to its end, and ends by the written rule")
    void agreesWithANaiveSimulator() {
        var random = new Random(14);
        for (int round = 0; round < 10_000; round++) {
            var night = new Night(random);
            Ending ending = night.play();
            assertThat(ending.state()).as("round %d: %s", round, night.steps).isEqualTo(night.outcome());
        }
    }

    @Test
    @DisplayName("is walked through with supposed ends as it would go")
    void isWalkedThrough() {
        var random = new Random(15);
        for (int round = 0; round < 500; round++) {
            List<Step> steps = graph(random);
            Map<String, RunState> ends = new HashMap<>();
            steps.forEach(step -> ends.put(step.name(), ENDS.get(random.nextInt(ENDS.size()))));
            ChainWalk.Walk walk = ChainWalk.of(
                    steps,
                    step -> ends.get(step.name()),
                    (step, from) -> Duration.ofMinutes(1),
                    known -> condition -> known.containsKey(condition)
                            && known.get(condition).isEnded()
                            && known.get(condition).state().isGood(),
                    ChainWalk.Room.ENOUGH);
            assertThat(walk.steps()).hasSameSizeAs(steps);
            for (ChainWalk.Walked each : walk.steps()) {
                each.from()
                        .ifPresent(from -> assertThat(each.until().minus(from)).hasMinutes(1));
                assertThat(each.from().isPresent()).isEqualTo(each.now().isEnded());
            }
            assertThat(walk.took().toMinutes()).isLessThanOrEqualTo(steps.size());
        }
    }

    @Test
    @DisplayName("is walked through with no lane overfull, and none beside another of its job that it cannot go beside")
    void isWalkedThroughApart() {
        var random = new Random(17);
        var modes = new HashMap<RunState, Integer>();
        for (int round = 0; round < 3_000; round++) {
            List<Step> steps = graph(random);
            var lanes = Map.of("quay", new LaneNow(random.nextInt(1, 3), Optional.empty()));
            Map<Step, Takes> takes = new HashMap<>();
            steps.forEach(step -> {
                var overlap = new Overlap(Mode.values()[random.nextInt(3)], random.nextInt(1, 3), List.of());
                Crowd crowd =
                        random.nextBoolean() ? Crowd.of("load-" + overlap.word() + overlap.sideBySide()) : Crowd.NONE;
                int places = random.nextInt(lanes.get("quay").width() + 1);
                takes.put(
                        step,
                        new Takes(
                                new Demand(places == 0 ? Map.of() : Map.of("quay", places), crowd, overlap, Set.of()),
                                random.nextInt(1, 10),
                                false));
            });
            ChainWalk.Walk walk = ChainWalk.of(
                    steps,
                    step -> RunState.SUCCEEDED,
                    (step, from) -> Duration.ofMinutes(random.nextInt(1, 50)),
                    known -> condition -> true,
                    new ChainWalk.Room(takes::get, lanes));
            assertThat(walk.steps()).extracting(each -> each.step().name()).doesNotHaveDuplicates();
            assertThat(walk.steps()).hasSameSizeAs(steps);
            walk.steps().forEach(each -> modes.merge(each.now().state(), 1, Integer::sum));
            for (ChainWalk.Walked begun : walk.steps()) {
                if (begun.from().isPresent()) {
                    List<Demand> beside = walk.steps().stream()
                            .filter(each -> each.from().isPresent()
                                    && each.from().get().compareTo(begun.from().get()) <= 0
                                    && each.until().compareTo(begun.from().get()) > 0)
                            .map(each -> takes.get(each.step()).demand())
                            .toList();
                    assertThat(beside.stream()
                                    .mapToInt(each -> each.lanes().getOrDefault("quay", 0))
                                    .sum())
                            .isLessThanOrEqualTo(lanes.get("quay").width());
                    Demand own = takes.get(begun.step()).demand();
                    assertThat(
                                    own.crowd().isNone()
                                            ? 0
                                            : beside.stream()
                                                    .filter(each -> each.crowd().equals(own.crowd()))
                                                    .count())
                            .isLessThanOrEqualTo(own.overlap().sideBySide());
                }
            }
        }
        assertThat(modes).containsKeys(RunState.SUCCEEDED, RunState.SKIPPED, RunState.CANCELLED);
    }

    @Test
    @DisplayName("says how long a step waits for another, that it would be skipped, or that another takes its place")
    void saysWhatKeepsStepsApart() {
        Map<Mode, List<String>> said = new HashMap<>();
        for (Mode mode : Mode.values()) {
            var demand = new Demand(Map.of(), Crowd.of("load"), new Overlap(mode, 1, List.of()), Set.of());
            ChainWalk.Walk walk = ChainWalk.of(
                    List.of(first("a", "load"), pause("b", Duration.ofMinutes(4)), follows("c", "load", "b")),
                    step -> RunState.SUCCEEDED,
                    (step, from) -> Duration.ofMinutes(step.name().equals("b") ? 4 : 10),
                    known -> condition -> true,
                    new ChainWalk.Room(
                            step -> new Takes(step.name().equals("b") ? Demand.NOTHING : demand, 5, false), Map.of()));
            said.put(
                    mode,
                    walk.steps().stream()
                            .map(each -> "%s %s at %d %s%s"
                                    .formatted(
                                            each.step().name(),
                                            each.now().state().word(),
                                            each.until().toMinutes(),
                                            each.why(),
                                            each.waited()))
                            .toList());
        }
        assertThat(said.get(Mode.WAIT))
                .containsExactly(
                        "b succeeded at 4 ",
                        "a succeeded at 10 ",
                        "c succeeded at 20 6 min for an earlier run of load to end");
        assertThat(said.get(Mode.SKIP))
                .containsExactly(
                        "b succeeded at 4 ",
                        "c skipped at 4 it would have had to wait for an earlier run of load to end",
                        "a succeeded at 10 ");
        assertThat(said.get(Mode.REPLACE))
                .containsExactly("b succeeded at 4 ", "a cancelled at 4 c takes its place", "c succeeded at 14 ");
    }

    @Test
    @DisplayName(
            "is foreseen from any point on as it would go where all goes well: the same steps, begun at the same times")
    void isForeseen() {
        var random = new Random(16);
        int exact = 0;
        for (int round = 0; round < 5_000; round++) {
            List<Step> steps = graph(random);
            Map<String, Integer> lengths = new HashMap<>();
            Map<String, Boolean> holds = new HashMap<>();
            steps.forEach(step -> {
                lengths.put(step.name(), random.nextInt(1, 100));
                holds.put(step.name(), random.nextInt(3) > 0);
            });
            ChainWalk.Walk walk = ChainWalk.of(
                    steps,
                    step -> RunState.SUCCEEDED,
                    (step, from) -> Duration.ofMinutes(lengths.get(step.name())),
                    known -> holds::get,
                    ChainWalk.Room.ENOUGH);
            // as it stands at some time, from the beginning on to the end
            Duration now = walk.took().multipliedBy(random.nextInt(4)).dividedBy(3);
            Map<String, StepNow> known = knownAt(walk, now);
            List<StepsAhead.Ahead> ahead =
                    StepsAhead.of(steps, known, false, (step, condition, places) -> holds.get(condition));
            String what = "round %d: %s, of which %s is known".formatted(round, steps, known);
            Map<String, Long> begins = begins(walk, known);
            assertThat(ahead)
                    .as(what)
                    .extracting(each -> each.step().name())
                    .containsExactlyInAnyOrderElementsOf(begins.keySet());
            // when it turns out that a step does not run is told only roughly where several others say so
            Set<String> ran = begins(walk, Map.of()).keySet();
            if (steps.stream()
                    .flatMap(step -> step.links().stream())
                    .allMatch(link -> link.on() != FollowsOn.ANY || ran.contains(link.after()))) {
                exact++;
                assertThat(played(ahead, known, begins, lengths)).as(what).isEqualTo(begins);
            }
        }
        assertThat(exact).isGreaterThan(1_000);
    }

    /** What has become of the steps so long after the start. */
    private static Map<String, StepNow> knownAt(ChainWalk.Walk walk, Duration now) {
        Map<String, StepNow> known = new HashMap<>();
        for (ChainWalk.Walked each : walk.steps()) {
            if (each.until().compareTo(now) <= 0) {
                known.put(each.step().name(), each.now());
            } else if (each.from().filter(from -> from.compareTo(now) <= 0).isPresent()) {
                known.put(each.step().name(), new StepNow(Place.UNDER_WAY, RunState.RUNNING));
            }
        }
        return known;
    }

    /** When each step begins that is not settled yet, in minutes. */
    private static Map<String, Long> begins(ChainWalk.Walk walk, Map<String, StepNow> known) {
        Map<String, Long> begins = new HashMap<>();
        for (ChainWalk.Walked each : walk.steps()) {
            StepNow now = known.get(each.step().name());
            if (now == null || !now.isSettled()) {
                each.from().ifPresent(from -> begins.put(each.step().name(), from.toMinutes()));
            }
        }
        return begins;
    }

    /** The same from what is said of the steps ahead. */
    private static Map<String, Long> played(
            List<StepsAhead.Ahead> ahead,
            Map<String, StepNow> known,
            Map<String, Long> begins,
            Map<String, Integer> lengths) {
        Map<String, Long> from = new HashMap<>();
        for (StepsAhead.Ahead each : ahead) {
            String name = each.step().name();
            List<Long> ends = each.after().stream()
                    .map(before -> from.get(before) + lengths.get(before))
                    .sorted()
                    .toList();
            long after = each.needed() == 0 ? 0 : ends.get(each.needed() - 1);
            from.put(name, known.containsKey(name) ? begins.get(name) : Long.valueOf(after));
        }
        return from;
    }

    @Test
    @DisplayName("that somebody holds begins nothing and does not end")
    void isHeld() {
        List<Step> steps = List.of(
                Step.of("settle", "settle", List.of(), FollowsOn.SUCCESS, Map.of()),
                Step.of("report", "report", List.of("settle"), FollowsOn.SUCCESS, Map.of()));
        Map<String, StepNow> failed = Map.of("settle", StepNow.of(RunState.FAILED));
        var held = new ChainCourse(steps, failed, Stop.NO, true, Conditions.NONE);
        assertThat(held.ending()).isEmpty();
        assertThat(new ChainCourse(steps, Map.of(), Stop.NO, true, Conditions.NONE).beginning())
                .isEmpty();
        assertThat(new ChainCourse(steps, failed, Stop.NO, false, Conditions.NONE).ending())
                .isPresent();
    }

    private static Step step(String name, Step.Work work, List<Link> links) {
        return new Step(name, work, links, Step.ALL, "", false, true, false, Optional.empty(), Step.Own.NOTHING);
    }

    private static Step first(String name, String job) {
        return step(name, new Step.Runs(job, "", Map.of()), List.of());
    }

    private static Step follows(String name, String job, String after) {
        return step(name, new Step.Runs(job, "", Map.of()), List.of(new Link(after, FollowsOn.SUCCESS, "")));
    }

    private static Step pause(String name, Duration length) {
        return step(name, new Step.Pause(Optional.of(length), Optional.empty()), List.of());
    }
}
