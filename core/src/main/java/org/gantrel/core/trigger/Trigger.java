package org.gantrel.core.trigger;

import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import org.gantrel.core.event.EventType;
import org.gantrel.core.job.JobScope;
import org.gantrel.core.run.RunState;
import org.gantrel.core.text.Words;

/**
 * An event that starts a job.
 *
 * @param name unique within its job
 * @param scope the jobs whose events are meant, or the teams whose things are
 * @param step the step of that chain, for {@code step.ended}; empty otherwise
 * @param ends the ends upon which it starts; empty for any
 * @param source where the event comes from, where the trigger itself looks for it
 * @param when a condition over the event, in CEL; empty where there is none
 * @param with values for the start; they may speak of the event
 * @param delay how long after the event it starts
 * @param limit how often it may start; nothing for as often as events come
 * @param hours when it may start; nothing for at any time
 */
public record Trigger(
        String name,
        EventType on,
        JobScope scope,
        String step,
        Set<RunState> ends,
        Source source,
        String when,
        Map<String, String> with,
        Duration delay,
        Optional<Limit> limit,
        Optional<OpenHours> hours) {

    /** What is called {@code event} in conditions and values. */
    public static final String EVENT = "event";

    /** After so many starts by one another the next one is not made: somebody has tied a knot. */
    public static final int MOST_IN_A_ROW = 20;

    /** What a trigger itself looks at or lets in; at most one of them is there. */
    public record Source(Optional<FileWatch> files, Optional<CallGuard> calls, Optional<RowWatch> rows) {
        public static final Source NONE = new Source(Optional.empty(), Optional.empty(), Optional.empty());

        public static Source of(FileWatch files) {
            return new Source(Optional.of(files), Optional.empty(), Optional.empty());
        }

        public static Source of(CallGuard calls) {
            return new Source(Optional.empty(), Optional.of(calls), Optional.empty());
        }

        public static Source of(RowWatch rows) {
            return new Source(Optional.empty(), Optional.empty(), Optional.of(rows));
        }

        /** The credentials that it needs. */
        public List<String> credentials() {
            var names = new ArrayList<String>();
            files.map(FileWatch::host).filter(host -> !host.isEmpty()).ifPresent(names::add);
            calls.map(CallGuard::credential).ifPresent(names::add);
            rows.map(RowWatch::credential).ifPresent(names::add);
            return names;
        }
    }

    public Trigger {
        ends = Set.copyOf(ends);
        with = Map.copyOf(with);
    }

    /** What it waits for, in words that follow "starts". */
    public String words() {
        var parts = new ArrayList<String>();
        parts.add("when " + what());
        if (!when.isEmpty()) {
            parts.add("and " + when);
        }
        if (!delay.isZero()) {
            parts.add(Words.duration(delay) + " later");
        }
        String all = String.join(" ", parts);
        return all
                + limit.map(each -> "; " + each.words()).orElse("")
                + hours.map(each -> "; " + each.words()).orElse("");
    }

    private String what() {
        String which = String.join(" or ", scope.jobs());
        String jobs = which.isEmpty() ? "a job" : which;
        String how = ends.isEmpty()
                ? "ended"
                : ends.stream().map(RunState::word).sorted().collect(Collectors.joining(" or "));
        String files = source.files().map(FileWatch::words).orElse("");
        return switch (on) {
            case RUN_ENDED -> jobs + " " + how;
            case STEP_ENDED -> "step " + step + " of " + jobs + " " + how;
            case RUN_CREATED -> jobs + " was written down";
            case RUN_STARTED -> jobs + " started";
            case RUN_LATE -> jobs + " is late";
            case RUN_LONG -> jobs + " takes unusually long";
            case RUN_WAITS -> jobs + " waits for long";
            case JOB_RECOVERED -> jobs + " is good again";
            case JOB_SILENT -> jobs + " is silent";
            case JOB_HEARD -> jobs + " is heard of again";
            case JOB_AT_RISK -> jobs + " will probably be late";
            case JOB_CHANGED -> jobs + " was changed";
            case SCHEDULE_OVER -> "a schedule of " + jobs + " is over";
            case FILE_ARRIVED -> files + " arrived";
            case FILE_CHANGED -> files + " changed";
            case FILE_GONE -> files + " went away";
            case FILE_AGED ->
                files + " is older than "
                        + source.files()
                                .flatMap(FileWatch::age)
                                .map(Words::duration)
                                .orElse("");
            case FOLDER_SILENT ->
                "nothing came as " + files + " for "
                        + source.files()
                                .flatMap(FileWatch::silence)
                                .map(Words::duration)
                                .orElse("");
            case CALL_RECEIVED -> "another system calls";
            case ROW_FOUND -> "a new row is found";
            default -> "of " + on.word();
        };
    }
}
