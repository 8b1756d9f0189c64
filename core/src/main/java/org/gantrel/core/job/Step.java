package org.gantrel.core.job;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.ZonedDateTime;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.access.Role;
import org.gantrel.core.expression.PlannedTime;
import org.gantrel.core.run.Retry;
import org.gantrel.core.run.RunState;
import org.gantrel.core.text.Words;

/**
 * A step of a chain.
 *
 * @param name unique within the chain
 * @param work what it does
 * @param links the steps that it follows, each with the end on which it does; none for a step that begins at once
 * @param join how many of the links have to hold; {@value #ALL} for all of them
 * @param when a condition over the results of earlier steps, in CEL; empty where there is none
 * @param last whether it comes at the very end, whatever happened before
 * @param matters whether its end counts for that of the chain
 * @param goesOn whether the chain goes on without waiting for it
 * @param until whether it is done again until its result is as it should be
 * @param own what this chain alone has of the job's rules
 */
public record Step(
        String name,
        Work work,
        List<Link> links,
        int join,
        String when,
        boolean last,
        boolean matters,
        boolean goesOn,
        Optional<Until> until,
        Own own) {

    /**
     * What the environment variables begin with that name files to a command. A chain may run jobs of others, and a variable
     * that a shell or an interpreter heeds would let it change what these do.
     */
    public static final String FILE_VARIABLE = "GANTREL_FILE_";

    /** All links have to hold. */
    public static final int ALL = 0;

    /** The end of a step on which another follows. */
    public enum FollowsOn {
        SUCCESS,
        FAILURE,
        ANY,
        WARNINGS;

        public String word() {
            return name().toLowerCase(Locale.ROOT);
        }

        /** All words for it. */
        public static List<String> words() {
            return Arrays.stream(values()).map(FollowsOn::word).toList();
        }

        /** Whether a step that ended so is followed. One that was skipped is as good as done. */
        public boolean follows(RunState state) {
            return switch (this) {
                case SUCCESS -> state.isGood() || state == RunState.SKIPPED;
                case FAILURE -> state.isBad();
                case WARNINGS -> state == RunState.WARNED;
                case ANY -> true;
            };
        }
    }

    /**
     * What leads from one step to another.
     *
     * @param after the name of the step before
     * @param when a condition that has to hold beside, in CEL; empty where there is none
     */
    public record Link(String after, FollowsOn on, String when) {}

    /** What a step does. */
    public sealed interface Work {}

    /**
     * It runs a job.
     *
     * @param over the roster that the job runs over; empty for a single run
     * @param rowsOf of which earlier sweep the rows are taken; nothing where they are the roster's own
     * @param with values for the job's parameters; they may hold expressions over the chain's own and over results
     * @param files outputs of earlier steps, by what follows {@value #FILE_VARIABLE} in the environment variable that names each
     */
    public record Runs(
            String job, String over, Optional<RowsOf> rowsOf, Map<String, String> with, Map<String, OutputOf> files)
            implements Work {
        public Runs {
            with = Map.copyOf(with);
            files = Map.copyOf(files);
        }

        public Runs(String job, String over, Map<String, String> with) {
            this(job, over, Optional.empty(), with, Map.of());
        }

        /** The same over a roster. */
        public Runs over(String roster) {
            return new Runs(job, roster, rowsOf, with, files);
        }
    }

    /** The rows of an earlier sweep of the chain. */
    public record RowsOf(String step, Which which) {}

    /** Which rows of a sweep, by how they ended. */
    public enum Which {
        ALL,
        GOOD,
        FAILED;

        public String word() {
            return name().toLowerCase(Locale.ROOT);
        }

        /** All words for it. */
        public static List<String> words() {
            return Arrays.stream(values()).map(Which::word).toList();
        }
    }

    /**
     * An output of an earlier step.
     *
     * @param name what it is called among the outputs of the step's run, such as {@code sales.csv}
     */
    public record OutputOf(String step, String name) {
        @Override
        public String toString() {
            return step + ":" + name;
        }
    }

    /** It waits: for a length of time, or until a local time of the planned zone. */
    public record Pause(Optional<Duration> length, Optional<LocalTime> until) implements Work {

        /**
         * When it is over.
         *
         * @param begins when it begins
         * @param planned for when its chain is: one until a local time is over with the first such time from then on
         */
        public Instant end(Instant begins, PlannedTime planned) {
            return length.map(begins::plus).orElseGet(() -> {
                LocalDateTime that = planned.date().atTime(until.orElseThrow());
                ZonedDateTime from = planned.at().atZone(planned.zone());
                ZonedDateTime first = that.atZone(planned.zone());
                return (first.isBefore(from) ? that.plusDays(1).atZone(planned.zone()) : first).toInstant();
            });
        }
    }

    /**
     * It asks people whether to go on.
     *
     * @param team whose people may say
     * @param role the least role that they have there
     * @param within how long they have; nothing for as long as they like
     * @param goesOn whether the chain goes on, with a warning, where nobody says anything in that time
     * @param asks the question; it may hold expressions
     * @param others whether the one who started the chain may not say
     * @param tells the addresses that get a mail with the question
     */
    public record Approval(
            String team,
            Role role,
            Optional<Duration> within,
            boolean goesOn,
            String asks,
            boolean others,
            List<String> tells)
            implements Work {
        public Approval {
            tells = List.copyOf(tells);
        }
    }

    /**
     * It waits at a named point for runs of other chains.
     *
     * @param of what the runs that meet have in common, such as the day (usual: the planned one); it may hold expressions
     * @param parties the chains that are to come; none named for all that have such a step
     * @param within how long it waits
     * @param goesOn whether the chain goes on, with a warning, where the others do not come in that time
     */
    public record Meeting(String name, String of, List<String> parties, Duration within, boolean goesOn)
            implements Work {
        public Meeting {
            parties = List.copyOf(parties);
        }
    }

    /**
     * A step is done again until its result is as it should be.
     *
     * @param holds the condition over its own result, in CEL
     * @param times how often it is done at most
     * @param every how long after an end it is done again
     * @param within how long it may take in all; nothing where only the times count
     */
    public record Until(String holds, int times, Duration every, Optional<Duration> within) {

        /** How long it takes where a turn takes so long and it is done so often, no more often than it may be. */
        public Duration inAll(Duration once, int turns) {
            int done = Math.max(1, Math.min(times, turns));
            return once.multipliedBy(done).plus(every.multipliedBy(done - 1L));
        }
    }

    /** What a chain has of a job's rules for one of its steps; what is not said is as the job has it. */
    public record Own(
            Optional<String> credential,
            Optional<Map<String, Integer>> lanes,
            Optional<Integer> priority,
            Optional<Duration> timeLimit,
            Optional<Retry> retry) {
        public static final Own NOTHING =
                new Own(Optional.empty(), Optional.empty(), Optional.empty(), Optional.empty(), Optional.empty());

        /** The job as this step runs it. */
        public Job over(Job job) {
            if (equals(NOTHING)) {
                return job;
            }
            Rules rules = job.rules()
                    .with(
                            lanes.orElse(job.rules().lanes()),
                            priority.orElse(job.rules().priority()),
                            retry.orElse(job.rules().retry()));
            return job instanceof Job.Task task
                    ? task.with(
                            credential
                                    .map(name -> new Job.Identity(
                                            name, task.identity().raised()))
                                    .orElse(task.identity()),
                            timeLimit.or(task::timeLimit),
                            rules)
                    : ((Job.Chain) job).with(rules.within(timeLimit.or(job::timeLimit)));
        }
    }

    public Step {
        links = List.copyOf(links);
    }

    /** A step that runs a job, and follows others on one and the same end. */
    public static Step of(String name, String job, List<String> after, FollowsOn on, Map<String, String> with) {
        return new Step(
                name,
                new Runs(job, "", with),
                after.stream().map(step -> new Link(step, on, "")).toList(),
                ALL,
                "",
                false,
                true,
                false,
                Optional.empty(),
                Own.NOTHING);
    }

    /** The job that it runs; nothing for a step that runs none. */
    public Optional<Runs> runs() {
        return work instanceof Runs runs ? Optional.of(runs) : Optional.empty();
    }

    /**
     * How far the end of its wait can lie ahead at most: that of a pause, an answer, a meeting or the next turn. Nothing where
     * that is no length of time.
     */
    public Optional<Duration> longestWait() {
        if (work instanceof Pause pause) {
            return pause.length();
        }
        if (work instanceof Approval approval) {
            return approval.within();
        }
        return work instanceof Meeting meeting ? Optional.of(meeting.within()) : until.map(Until::every);
    }

    /** The name of the job that it runs; empty where it runs none. */
    public String job() {
        return runs().map(Runs::job).orElse("");
    }

    /** The roster that its job runs over; empty where there is none. */
    public String over() {
        return runs().map(Runs::over).orElse("");
    }

    /** The same over a roster. */
    public Step over(String roster) {
        return runs().map(
                        runs -> new Step(name, runs.over(roster), links, join, when, last, matters, goesOn, until, own))
                .orElse(this);
    }

    /** The values that it hands to its job. */
    public Map<String, String> with() {
        return runs().map(Runs::with).orElse(Map.of());
    }

    /** Of which earlier sweep it takes the rows. */
    public Optional<RowsOf> rowsOf() {
        return runs().flatMap(Runs::rowsOf);
    }

    /** The outputs of earlier steps that its command is given, by environment variable. */
    public Map<String, OutputOf> files() {
        return runs().map(Runs::files).orElse(Map.of());
    }

    /** The names of the steps that it follows. */
    public List<String> after() {
        return links.stream().map(Link::after).distinct().toList();
    }

    /** How many of its links have to hold. */
    public int needed() {
        return join == ALL ? links.size() : join;
    }

    /** One word for what it does. */
    public String kind() {
        if (work instanceof Runs runs) {
            return runs.over().isEmpty() ? "job" : "sweep";
        }
        return work instanceof Pause ? "pause" : work instanceof Approval ? "approval" : "meeting";
    }

    /** Whether it can end badly, or with warnings, at all. */
    public boolean canEnd(FollowsOn on) {
        boolean plain = goesOn || work instanceof Pause;
        boolean warns = work instanceof Runs
                || work instanceof Approval approval && approval.goesOn()
                || work instanceof Meeting meeting && meeting.goesOn();
        return switch (on) {
            // a job that cannot be started fails, one that is not waited for too
            case FAILURE -> !(work instanceof Pause);
            case WARNINGS -> !plain && warns;
            default -> true;
        };
    }

    /** What it is called in expressions, where a dash is a minus. */
    public String alias() {
        return name.replace('-', '_');
    }

    /** What it does, in words. */
    public String doesInWords() {
        String own = "";
        if (work instanceof Runs runs) {
            own = "runs " + runs.job() + overInWords(runs) + (goesOn ? " and does not wait for it" : "");
        } else if (work instanceof Pause pause) {
            own = pause.length()
                    .map(length -> "waits " + Words.duration(length))
                    .or(() -> pause.until().map(at -> "waits until " + at))
                    .orElse("waits");
        } else if (work instanceof Approval approval) {
            String role = approval.role().word();
            own = "asks " + ("aeiou".indexOf(role.charAt(0)) < 0 ? "a " : "an ") + role + " of " + approval.team()
                    + approval.within()
                            .map(within -> ", within " + Words.duration(within))
                            .orElse("");
        } else if (work instanceof Meeting meeting) {
            own = "waits for " + (meeting.parties().isEmpty() ? "another chain" : Words.list(meeting.parties()))
                    + " at " + meeting.name() + ", at most " + Words.duration(meeting.within());
        }
        return own
                + until.map(each -> ", up to " + each.times() + " times until " + each.holds())
                        .orElse("")
                + (matters ? "" : "; its end does not matter");
    }

    private static String overInWords(Runs runs) {
        return runs.rowsOf()
                .map(rows -> " over the "
                        + (rows.which() == Which.ALL ? "" : rows.which().word() + " ") + "rows of " + rows.step())
                .orElse(runs.over().isEmpty() ? "" : " over " + runs.over());
    }

    /** The links in words: {@code after settle on success}. */
    public String linksInWords() {
        if (links.isEmpty()) {
            return last ? "at the end" : "at once";
        }
        boolean alike =
                links.stream().map(link -> link.on() + link.when()).distinct().count() == 1;
        String between = join == ALL || join == links.size() ? " and " : " or ";
        String words = alike
                ? String.join(between, after()) + ending(links.get(0))
                : String.join(
                        between,
                        links.stream().map(link -> link.after() + ending(link)).toList());
        boolean counted = join > 1 && join < links.size();
        return (counted ? "after " + join + " of " : "after ") + words + (when.isEmpty() ? "" : ", where " + when);
    }

    private static String ending(Link link) {
        return " on " + link.on().word() + (link.when().isEmpty() ? "" : " where " + link.when());
    }
}
