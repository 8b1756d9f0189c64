package org.gantrel.core.trigger;

import java.time.Duration;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import org.gantrel.core.run.RunState;

/**
 * An event that starts a job.
 *
 * @param name unique within its job
 * @param of the job whose end it waits for
 * @param step the step of that chain; empty for the job's own end
 * @param ends the ends upon which it starts; empty for any
 * @param when a condition over the event, in CEL; empty where there is none
 * @param with values for the start; they may speak of the event
 * @param delay how long after the event it starts
 */
public record Trigger(
        String name,
        On on,
        String of,
        String step,
        Set<RunState> ends,
        String when,
        Map<String, String> with,
        Duration delay) {

    /** What is called {@code event} in conditions and values. */
    public static final String EVENT = "event";

    /** After so many starts by one another the next one is not made: somebody has tied a knot. */
    public static final int MOST_IN_A_ROW = 20;

    /** What it waits for. */
    public enum On {
        RUN_ENDED("run.ended"),
        STEP_ENDED("step.ended");

        private final String word;

        On(String word) {
            this.word = word;
        }

        public String word() {
            return word;
        }

        /** The type of the event in the journal. */
        public String type() {
            return "gantrel." + word;
        }

        public static Optional<On> of(String word) {
            return Arrays.stream(values()).filter(on -> on.word.equals(word)).findFirst();
        }

        public static List<String> words() {
            return Arrays.stream(values()).map(On::word).toList();
        }
    }

    public Trigger {
        ends = Set.copyOf(ends);
        with = Map.copyOf(with);
    }

    /** Whether an event is what it waits for, its condition aside. */
    public boolean isFor(String type, String job, String endedStep, RunState state) {
        return on.type().equals(type)
                && of.equals(job)
                && step.equals(endedStep)
                && (ends.isEmpty() || ends.contains(state));
    }

    /** What it waits for, in words. */
    public String words() {
        String what = step.isEmpty() ? of : "step " + step + " of " + of;
        String how = ends.isEmpty()
                ? "ended"
                : ends.stream().map(RunState::word).sorted().collect(Collectors.joining(" or "));
        return "when " + what + " " + how + (when.isEmpty() ? "" : " and " + when);
    }
}
