package org.gantrel.service.execution;

import java.io.IOException;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Queue;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;
import org.gantrel.core.action.Action;
import org.gantrel.core.action.Command;
import org.gantrel.core.expression.ExpressionException;
import org.gantrel.core.job.Job;
import org.gantrel.core.run.Ending;
import org.gantrel.core.run.OutcomeRule;
import org.gantrel.core.run.RunState;
import org.gantrel.service.run.Finish;
import org.gantrel.service.run.RunRecord;
import org.gantrel.service.run.RunRecord.Stopping;
import org.gantrel.service.run.Runs;
import org.gantrel.service.time.Waker;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionTemplate;
import org.springframework.util.FileSystemUtils;

/**
 * Runs local commands: starts them, finds them again after a restart, stops them, and writes down how they ended. Used
 * by the engine's thread alone; only the news of an exit comes from elsewhere.
 */
@Component
public class Execution {

    private static final Logger LOG = LoggerFactory.getLogger(Execution.class);

    /** How long a command that was asked to stop has for it. */
    private static final Duration PATIENCE = Duration.ofSeconds(10);

    /** How often a command is looked for that was claimed and has not said its process number yet. */
    private static final Duration SOON = Duration.ofMillis(50);

    private static final int MOST_ENDS = 200;

    private static final Duration LONGEST_SILENCE = Duration.ofSeconds(5);

    /** Work in the service itself does not outlive it, and it is not begun again: nobody knows how far it came. */
    private static final Found INTERRUPTED = Found.ended(
            new Ending(
                    RunState.FAILED,
                    "the service stopped while it was under way; how far it came is not known, and it is not repeated"),
            List.of(),
            Map.of());

    /** A command that is under way. */
    private static final class Going {
        private final RunRecord run;
        private final Job.Task task;
        private final RunFolder folder;
        private Instant launchAt = Instant.MAX;
        private Instant limit = Instant.MAX;
        private Instant stopAgain = Instant.MAX;
        private Instant lookAgain = Instant.MAX;
        private boolean askedToStop;
        private Optional<InProcess.UnderWay> underWay = Optional.empty();

        private Going(RunRecord run, Job.Task task, RunFolder folder) {
            this.run = run;
            this.task = task;
            this.folder = folder;
            task.timeLimit()
                    .ifPresent(
                            limit -> this.limit = run.startedAt().orElseThrow().plus(limit));
        }

        private Instant next() {
            return Stream.of(launchAt, limit, stopAgain, lookAgain)
                    .min(Instant::compareTo)
                    .orElseThrow();
        }
    }

    private record Exited(long number, Optional<Integer> code, Found found) {
        private static Exited plain(long number) {
            return new Exited(number, Optional.empty(), Found.NOTHING);
        }
    }

    private record News(long number, String text) {}

    private final Runs runs;
    private final Launcher launcher;
    private final Actors actors;
    private final InProcess inProcess;
    private final Elsewhere elsewhere;
    private final Programs programs;
    private final Endings endings;
    private final Waker waker;
    private final TransactionTemplate transaction;
    private final Clock clock;
    private final Map<Long, Going> going = new HashMap<>();
    private final Queue<Exited> exited = new ConcurrentLinkedQueue<>();
    private final Queue<News> news = new ConcurrentLinkedQueue<>();

    Execution(
            Runs runs,
            Launcher launcher,
            Actors actors,
            InProcess inProcess,
            Elsewhere elsewhere,
            Programs programs,
            Endings endings,
            Waker waker,
            TransactionTemplate transaction,
            Clock clock) {
        this.runs = runs;
        this.launcher = launcher;
        this.actors = actors;
        this.inProcess = inProcess;
        this.elsewhere = elsewhere;
        this.programs = programs;
        this.endings = endings;
        this.waker = waker;
        this.transaction = transaction;
        this.clock = clock;
    }

    /** How many commands are under way. */
    public int size() {
        return going.size();
    }

    /** The files of a run. */
    public RunFolder folder(long number) {
        return launcher.folder(number);
    }

    /** The account that commands run as. */
    public static String identity() {
        return System.getProperty("user.name");
    }

    /** Whom the task of a run acts as; a chain's steps each have their own, so that a chain acts as the service. */
    public String identityOf(RunRecord run) {
        return identityOf(runs.jobOf(run));
    }

    /** The same for any run of a job. */
    public String identityOf(Job job) {
        return job instanceof Job.Task task ? actors.identity(task) : identity();
    }

    /** Starts a program that does nothing, so that the first real start finds all it needs in memory. */
    public void warmUp() {
        RunFolder folder = launcher.folder(0);
        try {
            launcher.launch(folder, Command.of("true"), Map.of(), Launcher.Manner.PLAIN)
                    .waitFor(5, TimeUnit.SECONDS);
            FileSystemUtils.deleteRecursively(folder.path());
        } catch (IOException e) {
            LOG.debug("nothing can be started yet: {}", e.getMessage());
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }

    /**
     * Starts waiting tasks, or ends them with the reason why they cannot start. All are written down as begun in one
     * transaction: a commit is what a start costs most. One that is planned for a moment later starts at that moment.
     */
    public void start(List<Long> numbers, Instant now) {
        transaction
                .execute(status -> launching(
                        numbers.stream().map(number -> begin(number, now)).toList()))
                .run();
    }

    /**
     * Prepares tasks that the caller's transaction writes down as begun.
     *
     * @return starts them; to be run when that is committed
     */
    public Runnable launch(List<RunRecord> written) {
        return launching(written.stream()
                .map(run -> new Going(run, (Job.Task) runs.jobOf(run), launcher.folder(run.number())))
                .toList());
    }

    private Runnable launching(List<Going> begun) {
        return () -> {
            for (Going started : begun) {
                going.put(started.run.number(), started);
                if (started.launchAt.equals(Instant.MAX)) {
                    launch(started);
                }
            }
        };
    }

    private Going begin(long number, Instant now) {
        RunRecord waiting = runs.find(number).orElseThrow();
        Instant begin = waiting.plannedAt().isAfter(now) ? waiting.plannedAt() : now;
        var task = (Job.Task) runs.jobOf(waiting);
        RunRecord run = runs.begin(number, actors.identity(task), begin);
        var started = new Going(run, task, launcher.folder(number));
        if (begin.isAfter(now)) {
            started.launchAt = begin;
        }
        return started;
    }

    /** Finds the commands again that were under way when the service stopped. */
    public void findAgain() {
        for (RunRecord run : runs.runningTasks()) {
            var found = new Going(run, (Job.Task) runs.jobOf(run), launcher.folder(run.number()));
            going.put(run.number(), found);
            found.askedToStop = run.stopping() != Stopping.NO;
            found.stopAgain = found.askedToStop ? clock.instant() : Instant.MAX;
            if (found.task.command().isEmpty()) {
                exited.add(new Exited(run.number(), Optional.empty(), INTERRUPTED));
            } else if (!actors.isElsewhere(found.task) && found.folder.isClaimed()) {
                watch(found);
            } else {
                launch(found);
            }
        }
    }

    /** Deals with exits, limits and stops that are due. */
    public void attend(Instant now) {
        while (!news.isEmpty()) {
            News told = news.poll();
            runs.remark(told.number(), told.text(), now);
        }
        while (!exited.isEmpty()) {
            finishAll(now);
        }
        for (Going each : List.copyOf(going.values())) {
            if (!each.launchAt.isAfter(now)) {
                each.launchAt = Instant.MAX;
                if (each.askedToStop) {
                    exited.add(Exited.plain(each.run.number()));
                } else {
                    launch(each);
                }
            }
            if (!each.lookAgain.isAfter(now)) {
                each.lookAgain = Instant.MAX;
                watch(each);
            }
            if (!each.limit.isAfter(now)) {
                each.limit = Instant.MAX;
                runs.askToStop(each.run.number(), Stopping.LIMIT, "", now);
                stop(each, now);
            } else if (!each.stopAgain.isAfter(now)) {
                stop(each, now);
            }
        }
    }

    /** Asks a command to stop; one that does not within its patience is ended by force. */
    public void stop(long number, Instant now) {
        Going each = going.get(number);
        if (each != null && !each.askedToStop) {
            stop(each, now);
        }
    }

    /** When there is something to attend to by itself. */
    public Instant next() {
        return going.values().stream().map(Going::next).min(Instant::compareTo).orElse(Instant.MAX);
    }

    private void launch(Going start) {
        try {
            Action action = start.task.action().fill(runs.known(start.run));
            List<String> complaints = actors.complaints(start.task);
            Optional<String> complaint =
                    complaints.isEmpty() ? launcher.noRoom() : Optional.of(String.join("; ", complaints));
            if (complaint.isPresent()) {
                fail(start, "not started: " + complaint.get());
            } else if (action instanceof Command command) {
                launch(start, command);
            } else {
                long number = start.run.number();
                start.underWay = Optional.of(inProcess.begin(
                        start.run, start.task, action, found -> tell(new Exited(number, Optional.empty(), found))));
            }
        } catch (IOException | ExpressionException e) {
            fail(start, "not started: " + e.getMessage());
        }
    }

    private void launch(Going start, Command command) throws IOException {
        boolean here = !actors.isElsewhere(start.task);
        Optional<Account> account = actors.account(start.task);
        Optional<String> complaint = here ? programs.complaint(command, account, actors.own()) : Optional.empty();
        if (complaint.isPresent()) {
            fail(start, "not started: " + complaint.get());
            return;
        }
        Map<String, String> secrets = actors.secrets(command, start.task, start.run);
        var environment = new LinkedHashMap<>(facts(start.run));
        environment.putAll(secrets);
        var covered = new ArrayList<>(secrets.values());
        covered.addAll(runs.secrets(start.run).values());
        boolean errorsApart = start.task.outcome().errorStream() != OutcomeRule.ErrorStream.ALLOWED;
        String input = command.input() == Command.Input.VALUES ? runs.valuesAsJson(start.run) : "";
        if (here) {
            var manner = new Launcher.Manner(account, covered, errorsApart, input);
            Process process = launcher.launch(start.folder, command, environment, manner);
            follow(start, process.onExit().thenApply(ended -> Optional.of(ended.exitValue())));
            return;
        }
        environment.putAll(command.environment());
        var order = new Elsewhere.Order(
                start.run.number(),
                actors.open(start.task, start.run).orElseThrow(),
                command,
                environment,
                covered,
                errorsApart,
                input,
                start.folder,
                !start.task.outputs().files().isEmpty()
                        || !start.task.outcome().testResults().isEmpty(),
                worked -> aftermath(start, worked).lookClosely());
        start.underWay = Optional.of(elsewhere.begin(order, listener(start.run.number())));
    }

    private Elsewhere.Listener listener(long number) {
        return new Elsewhere.Listener() {
            @Override
            public void news(String text) {
                news.add(new News(number, text));
                waker.wake();
            }

            @Override
            public void ended(Found found) {
                tell(new Exited(number, Optional.empty(), found));
            }
        };
    }

    /** Looks through what the command left as soon as it has ended, in a thread of its own. */
    private void follow(Going start, CompletableFuture<Optional<Integer>> exit) {
        long number = start.run.number();
        Path worked = start.task
                .command()
                .map(command -> runs.known(start.run).fill(command.folder()))
                .filter(folder -> !folder.isEmpty())
                .map(Path::of)
                .orElse(start.folder.work());
        Aftermath aftermath = aftermath(start, worked);
        exit.thenAcceptAsync(code -> tell(new Exited(number, code, aftermath.look())));
    }

    private Aftermath aftermath(Going start, Path worked) {
        var outputs = start.task.outputs().files().stream()
                .map(output -> output.fill(runs.known(start.run)))
                .toList();
        return new Aftermath(start.task.outcome(), outputs, worked, start.folder);
    }

    private static Map<String, String> facts(RunRecord run) {
        var facts = new LinkedHashMap<String, String>();
        facts.put("GANTREL_RUN", String.valueOf(run.number()));
        facts.put("GANTREL_JOB", run.jobName());
        facts.put("GANTREL_PLANNED", run.plannedAt().toString());
        return facts;
    }

    private void watch(Going found) {
        Optional<ProcessMark> mark = found.folder.process();
        Optional<ProcessHandle> process = mark.flatMap(ProcessMark::find);
        if (process.isPresent()) {
            follow(found, process.get().onExit().thenApply(ended -> Optional.empty()));
            return;
        }
        Instant now = clock.instant();
        boolean mayStillSay = mark.isEmpty()
                && now.isBefore(found.run.startedAt().orElseThrow().plus(LONGEST_SILENCE));
        if (mayStillSay) {
            found.lookAgain = now.plus(SOON);
            return;
        }
        follow(found, CompletableFuture.completedFuture(Optional.empty()));
    }

    private void tell(Exited exit) {
        exited.add(exit);
        waker.wake();
    }

    private void stop(Going each, Instant now) {
        each.underWay.ifPresent(InProcess.UnderWay::stop);
        Optional<ProcessMark> process =
                each.folder.process().filter(mark -> mark.find().isPresent());
        try {
            if (process.isPresent()) {
                launcher.signal(
                        process.get(),
                        each.askedToStop && each.stopAgain != Instant.MAX ? "KILL" : "TERM",
                        actors.account(each.task));
            }
        } catch (IOException e) {
            LOG.warn("run {} cannot be sent a signal: {}", each.run.number(), e.getMessage());
        }
        each.askedToStop = true;
        each.stopAgain = now.plus(PATIENCE);
    }

    /** Writes down in one transaction how many have ended; one by one where that cannot be. */
    private void finishAll(Instant now) {
        var ends = new ArrayList<Exited>();
        while (ends.size() < MOST_ENDS && !exited.isEmpty()) {
            ends.add(exited.poll());
        }
        try {
            transaction.executeWithoutResult(status -> {
                runs.readToEnd(ends.stream().map(Exited::number).toList());
                ends.forEach(exit -> finish(exit, now));
            });
        } catch (RuntimeException e) {
            LOG.warn("{} ends are written down one by one: {}", ends.size(), e.getMessage());
            ends.forEach(exit -> finish(exit, now));
        }
        ends.forEach(exit -> Optional.ofNullable(going.remove(exit.number()))
                .flatMap(ended -> ended.underWay)
                .ifPresent(InProcess.UnderWay::settled));
    }

    private void finish(Exited exit, Instant now) {
        Going ended = going.get(exit.number());
        if (ended == null) {
            return;
        }
        RunRecord run = runs.find(exit.number()).orElseThrow();
        Optional<RunFolder.Exit> left = ended.task.command().isPresent() ? exitOf(ended.folder) : Optional.empty();
        Optional<Integer> code = left.map(RunFolder.Exit::code).or(exit::code);
        Ending ending =
                endings.of(run, ended.task, ended.folder, new Endings.Code(code, left.isPresent()), exit.found());
        runs.end(
                exit.number(),
                new Finish(ending, code, exit.found().items(), exit.found().results()),
                left.map(RunFolder.Exit::at).orElse(now));
    }

    private static Optional<RunFolder.Exit> exitOf(RunFolder folder) {
        try {
            return folder.exit();
        } catch (IOException e) {
            return Optional.empty();
        }
    }

    private void fail(Going start, String message) {
        going.remove(start.run.number());
        runs.end(start.run.number(), Finish.of(new Ending(RunState.FAILED, message)), clock.instant());
    }
}
