package org.gantrel.core.chain;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.PriorityQueue;
import java.util.function.BiFunction;
import java.util.function.Function;
import org.gantrel.core.chain.StepNow.Place;
import org.gantrel.core.job.Step;
import org.gantrel.core.run.Admission;
import org.gantrel.core.run.Admission.Demand;
import org.gantrel.core.run.Admission.LaneNow;
import org.gantrel.core.run.Admission.Running;
import org.gantrel.core.run.Admission.Snapshot;
import org.gantrel.core.run.Admission.Verdict;
import org.gantrel.core.run.Admission.WaitingRun;
import org.gantrel.core.run.Ending;
import org.gantrel.core.run.RunState;
import org.gantrel.core.run.RunStatus.Stop;
import org.gantrel.core.text.Words;

/**
 * Walks through a whole chain with supposed ends and lengths of its steps: which would run, in which order, from when until
 * when. Steps that cannot go beside each other go as {@link Admission} lets them; what else is under way is not looked at.
 */
public final class ChainWalk {

    /**
     * A step on the way.
     *
     * @param from how long after the chain's start it begins; nothing for one that does not run
     * @param until how long after the chain's start it ends, or is found not to run
     * @param why why it does not run, or does not end as supposed; empty where there is nothing to say
     * @param waited how long and for what it waits before it begins; empty where it does not
     */
    public record Walked(Step step, StepNow now, Optional<Duration> from, Duration until, String why, String waited) {}

    /** The way through. @param steps in the order in which they end */
    public record Walk(List<Walked> steps, Ending ending, Duration took) {}

    /**
     * What keeps steps from going beside each other.
     *
     * @param takes what each takes while it runs
     * @param lanes the lanes that they name, each open and wide enough for any one of them
     */
    public record Room(Function<Step, Takes> takes, Map<String, LaneNow> lanes) {
        /** Where every step may go beside every other. */
        public static final Room ENOUGH = new Room(step -> new Takes(Demand.NOTHING, 5, true), Map.of());
    }

    /** What a step takes while it runs. @param parent whether it only leads other runs, or runs nothing */
    public record Takes(Demand demand, int priority, boolean parent) {}

    private record Coming(Duration at, int order, Step step, Duration from) {}

    private record Ready(Step step, Duration since) {}

    /** Decisions look at instants; which one a chain begins at does not matter here. */
    private static final Instant START = Instant.EPOCH;

    private final List<Step> steps;
    private final Function<Step, RunState> ends;
    private final BiFunction<Step, Duration, Duration> lengths;
    private final Room room;
    private final Map<String, StepNow> known = new HashMap<>();
    private final List<Walked> walked = new ArrayList<>();
    private final PriorityQueue<Coming> coming =
            new PriorityQueue<>(Comparator.comparing(Coming::at).thenComparing(Coming::order));
    private final Map<Integer, Ready> waiting = new LinkedHashMap<>();
    private final Map<Integer, Running> running = new HashMap<>();
    private final Map<Integer, String> waited = new HashMap<>();
    private Duration now = Duration.ZERO;

    private ChainWalk(
            List<Step> steps, Function<Step, RunState> ends, BiFunction<Step, Duration, Duration> lengths, Room room) {
        this.steps = steps;
        this.ends = ends;
        this.lengths = lengths;
        this.room = room;
    }

    /**
     * Walks.
     *
     * @param ends how each step ends that begins
     * @param lengths how long each takes that begins so long after the chain's start
     * @param conditions works out conditions as of the steps that have ended so far
     */
    public static Walk of(
            List<Step> steps,
            Function<Step, RunState> ends,
            BiFunction<Step, Duration, Duration> lengths,
            Function<Map<String, StepNow>, Conditions> conditions,
            Room room) {
        return new ChainWalk(steps, ends, lengths, room).walk(conditions);
    }

    private Walk walk(Function<Map<String, StepNow>, Conditions> conditions) {
        while (true) {
            var course = new ChainCourse(steps, known, Stop.NO, false, conditions.apply(Map.copyOf(known)));
            for (ChainCourse.Settled settled : course.settled()) {
                known.put(settled.step().name(), settled.now());
                walked.add(new Walked(settled.step(), settled.now(), Optional.empty(), now, settled.why(), ""));
            }
            for (Step step : course.beginning()) {
                known.put(step.name(), new StepNow(Place.UNDER_WAY, RunState.RUNNING));
                waiting.put(steps.indexOf(step), new Ready(step, now));
            }
            if (waiting.isEmpty() && coming.isEmpty()) {
                // nothing is held or stopped here, so what cannot go on has ended
                return new Walk(walked, course.ending().orElseThrow(), now);
            }
            if (admit()) {
                // what follows the steps that ended with it comes first
                continue;
            }
            if (coming.isEmpty()) {
                // nothing could end that it waits for
                begin(waiting.keySet().iterator().next());
            } else {
                end(coming.poll());
            }
        }
    }

    /** Begins what may begin; says whether some ended with that. */
    private boolean admit() {
        if (waiting.isEmpty()) {
            return false;
        }
        var standing = new ArrayList<WaitingRun>();
        waiting.forEach((order, ready) -> {
            Takes takes = room.takes().apply(ready.step());
            Instant since = START.plus(ready.since());
            standing.add(new WaitingRun(
                    order, "", since, since, takes.parent(), takes.priority(), takes.demand(), Optional.empty()));
        });
        Verdict verdict = new Admission(steps.size())
                .decide(new Snapshot(
                        START.plus(now), List.copyOf(running.values()), standing, List.of(), room.lanes()));
        verdict.begin().forEach(number -> begin(number.intValue()));
        verdict.held()
                .forEach(held ->
                        waited.put((int) held.number(), held.by().unnumbered().text()));
        verdict.skipped().forEach(held -> {
            Ready gone = waiting.remove((int) held.number());
            settle(
                    gone.step(),
                    RunState.SKIPPED,
                    Optional.empty(),
                    "it would have had to wait for " + held.by().unnumbered().text());
        });
        verdict.replaced().forEach(each -> replace((int) each.number(), steps.get((int) each.by())));
        return !verdict.skipped().isEmpty() || !verdict.replaced().isEmpty();
    }

    private void begin(int order) {
        Ready ready = waiting.remove(order);
        Step step = ready.step();
        Duration until = step.goesOn() ? now : now.plus(lengths.apply(step, now));
        coming.add(new Coming(until, order, step, now));
        Takes takes = room.takes().apply(step);
        running.put(order, new Running(order, "", takes.parent(), takes.demand()));
        waited.computeIfPresent(
                order,
                (key, what) ->
                        now.equals(ready.since()) ? null : Words.duration(now.minus(ready.since())) + " for " + what);
    }

    private void end(Coming next) {
        now = next.at();
        running.remove(next.order());
        RunState end = next.step().goesOn() ? RunState.SUCCEEDED : ends.apply(next.step());
        settle(next.step(), end, Optional.of(next.from()), "");
    }

    /** A step that waits or runs is stopped, since another takes its place. */
    private void replace(int order, Step by) {
        Step step = steps.get(order);
        Optional<Duration> from = coming.stream()
                .filter(each -> each.order() == order)
                .map(Coming::from)
                .findFirst();
        coming.removeIf(each -> each.order() == order);
        waiting.remove(order);
        running.remove(order);
        if (!known.get(step.name()).isEnded()) {
            settle(step, RunState.CANCELLED, from, by.name() + " takes its place");
        }
    }

    private void settle(Step step, RunState state, Optional<Duration> from, String why) {
        StepNow end = StepNow.of(state);
        known.put(step.name(), end);
        String before = from.isPresent() ? waited.getOrDefault(steps.indexOf(step), "") : "";
        walked.add(new Walked(step, end, from, now, why, before));
    }
}
