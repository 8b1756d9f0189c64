package org.gantrel.core.chain;

import java.time.Duration;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.PriorityQueue;
import java.util.function.BiFunction;
import java.util.function.Function;
import org.gantrel.core.chain.StepNow.Place;
import org.gantrel.core.job.Step;
import org.gantrel.core.run.Ending;
import org.gantrel.core.run.RunState;
import org.gantrel.core.run.RunStatus.Stop;

/** Walks through a whole chain with supposed ends and lengths of its steps: which would run, in which order, from when until when. */
public final class ChainWalk {

    /**
     * A step on the way.
     *
     * @param from how long after the chain's start it begins; nothing for one that does not run
     * @param until how long after the chain's start it ends, or is found not to run
     * @param why why it does not run, or fails; empty where there is nothing to say
     */
    public record Walked(Step step, StepNow now, Optional<Duration> from, Duration until, String why) {}

    /** The way through. @param steps in the order in which they end */
    public record Walk(List<Walked> steps, Ending ending, Duration took) {}

    private record Coming(Duration at, int order, Step step, Duration from) {}

    private ChainWalk() {}

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
            Function<Map<String, StepNow>, Conditions> conditions) {
        Map<String, StepNow> known = new HashMap<>();
        var walked = new ArrayList<Walked>();
        var coming = new PriorityQueue<>(Comparator.comparing(Coming::at).thenComparing(Coming::order));
        Duration now = Duration.ZERO;
        while (true) {
            var course = new ChainCourse(steps, known, Stop.NO, false, conditions.apply(Map.copyOf(known)));
            for (ChainCourse.Settled settled : course.settled()) {
                known.put(settled.step().name(), settled.now());
                walked.add(new Walked(settled.step(), settled.now(), Optional.empty(), now, settled.why()));
            }
            for (Step step : course.beginning()) {
                known.put(step.name(), new StepNow(Place.UNDER_WAY, RunState.RUNNING));
                Duration until = step.goesOn() ? now : now.plus(lengths.apply(step, now));
                coming.add(new Coming(until, steps.indexOf(step), step, now));
            }
            if (coming.isEmpty()) {
                // nothing is held or stopped here, so what cannot go on has ended
                return new Walk(walked, course.ending().orElseThrow(), now);
            }
            Coming next = coming.poll();
            now = next.at();
            StepNow end = StepNow.of(next.step().goesOn() ? RunState.SUCCEEDED : ends.apply(next.step()));
            known.put(next.step().name(), end);
            walked.add(new Walked(next.step(), end, Optional.of(next.from()), now, ""));
        }
    }
}
