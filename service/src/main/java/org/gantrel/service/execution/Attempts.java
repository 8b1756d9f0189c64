package org.gantrel.service.execution;

import java.io.IOException;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.ScheduledFuture;
import java.util.concurrent.TimeUnit;
import java.util.function.Consumer;
import java.util.function.UnaryOperator;
import org.gantrel.core.action.Action;
import org.gantrel.core.action.Command;
import org.gantrel.core.action.Outside;
import org.gantrel.core.expression.ExpressionException;
import org.gantrel.core.job.Leftovers;
import org.gantrel.core.run.Effect.Signal.Force;
import org.gantrel.core.run.Ending;
import org.gantrel.core.run.OutcomeRule;
import org.gantrel.core.run.RunState;
import org.gantrel.service.run.Finish;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.RunValues;
import org.gantrel.service.settings.Settings;
import org.gantrel.service.time.Threads;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.beans.factory.DisposableBean;
import org.springframework.stereotype.Component;

/**
 * Begins, follows and stops the work of tasks, in threads of its own: name look-ups, accounts, folders on other hosts and
 * full disks may keep it waiting, and the engine must not. Whatever happens, each attempt is told of once at its end.
 */
@Component
class Attempts implements DisposableBean {

    private static final Logger LOG = LoggerFactory.getLogger(Attempts.class);
    private static final Duration SOON = Duration.ofMillis(50);

    /** How often a process is looked at that a service before has started. */
    private static final Duration OFTEN = Duration.ofMillis(200);

    /** How long the mark of a command is looked for after a stop; what is slower to come is asked once more. */
    private static final Duration MARKING = Duration.ofSeconds(30);

    /** Work in the service itself does not outlive it, and it is not begun again: nobody knows how far it came. */
    private static final Ending INTERRUPTED = new Ending(
            RunState.FAILED,
            "the service stopped while it was under way; how far it came is not known, and it is not repeated");

    private static final String STOPPED = "it was stopped before it began";

    private final RunValues values;
    private final Launcher launcher;
    private final Actors actors;
    private final InProcess inProcess;
    private final Elsewhere elsewhere;
    private final OutsideWork outside;
    private final Programs programs;
    private final SourceTaking sources;
    private final Endings endings;
    private final LeftBehind leftBehind;
    private final GrowingLogs logs;
    private final Aftermaths aftermaths;
    private final StepFiles files;
    private final Clock clock;
    private final ExecutorService starts;
    private final ExecutorService signals;
    private final ExecutorService ends;
    private final ExecutorService packing;
    private final ScheduledExecutorService looks = Threads.timer("looks");
    private volatile Consumer<Report> told = report -> {};

    Attempts(
            RunValues values,
            Launcher launcher,
            Actors actors,
            InProcess inProcess,
            Elsewhere elsewhere,
            OutsideWork outside,
            Programs programs,
            SourceTaking sources,
            Endings endings,
            LeftBehind leftBehind,
            GrowingLogs logs,
            Aftermaths aftermaths,
            StepFiles files,
            Settings settings,
            Clock clock) {
        this.files = files;
        this.values = values;
        this.launcher = launcher;
        this.actors = actors;
        this.inProcess = inProcess;
        this.elsewhere = elsewhere;
        this.outside = outside;
        this.programs = programs;
        this.sources = sources;
        this.endings = endings;
        this.leftBehind = leftBehind;
        this.logs = logs;
        this.aftermaths = aftermaths;
        this.clock = clock;
        int most = Math.max(4, settings.limits().runsAtOnce());
        this.starts = Threads.pool("start", most);
        this.signals = Threads.pool("signal", most);
        this.ends = Threads.pool("end", most);
        this.packing = Threads.pool("packing", 1);
    }

    void tellTo(Consumer<Report> listener) {
        told = listener;
    }

    void launch(Attempt attempt) {
        starts.execute(() -> launchNow(attempt));
    }

    /** Finds work again that was under way when the service stopped. */
    void follow(Attempt attempt) {
        attempt.unheardOf();
        starts.execute(() -> {
            try {
                prepare(attempt);
                logs.follow(attempt, cover(attempt), text -> news(attempt, text));
                if (attempt.task().action() instanceof Outside) {
                    waitFor(attempt);
                    goesOn(attempt);
                } else if (attempt.task().command().isEmpty()) {
                    end(attempt, Finish.of(INTERRUPTED), clock.instant());
                } else if (actors.isElsewhere(attempt.task())) {
                    launchNow(attempt);
                } else if (attempt.folder().isClaimed()) {
                    watch(attempt);
                } else {
                    launchNow(attempt);
                    goesOn(attempt);
                }
            } catch (Throwable e) {
                LOG.warn("run {} cannot be followed", attempt.run().number(), e);
                // it may well go on
                refuse(attempt, "it could not be found again: " + said(e), true);
            }
        });
    }

    void signal(Attempt attempt, Force force) {
        Instant until = clock.instant().plus(MARKING);
        Optional<InProcess.UnderWay> told = attempt.stop(force);
        signals.execute(() -> signalNow(attempt, told, until));
    }

    /** The end of an attempt is written down: what was kept until then may go, and its log grows no more. */
    void settled(Attempt attempt) {
        packing.execute(() -> {
            try {
                attempt.work().ifPresent(InProcess.UnderWay::settled);
                attempt.folder().logFile().pack();
            } catch (IOException | RuntimeException e) {
                LOG.debug("what was kept for run {} stays", attempt.run().number(), e);
            }
        });
    }

    /** Puts aside what an earlier try left, when the packing of its log is through. */
    private void prepare(Attempt attempt) throws IOException {
        int number = attempt.run().attempt();
        if (number > 1) {
            try {
                packing.submit(() -> {
                            attempt.folder().begin(number);
                            return null;
                        })
                        .get();
            } catch (ExecutionException e) {
                throw new IOException(
                        "what the try before left cannot be put aside: "
                                + e.getCause().getMessage(),
                        e);
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                throw new IOException("interrupted", e);
            }
        }
    }

    private void launchNow(Attempt attempt) {
        try {
            prepare(attempt);
            logs.follow(attempt, cover(attempt), text -> news(attempt, text));
            if (attempt.wanted().isPresent() && !attempt.folder().isClaimed()) {
                refuse(attempt, STOPPED, false);
                return;
            }
            if (attempt.task().action() instanceof Outside) {
                waitFor(attempt);
                return;
            }
            Run run = attempt.run();
            Action action = attempt.task()
                    .action()
                    .fill(values.known(run).typed(attempt.task().parameters().kinds()));
            List<String> complaints = actors.complaints(attempt.task());
            Optional<String> complaint =
                    complaints.isEmpty() ? launcher.noRoom() : Optional.of(String.join("; ", complaints));
            if (complaint.isPresent()) {
                refuse(attempt, complaint.get(), false);
            } else if (action instanceof Command command) {
                launch(attempt, command);
            } else {
                attempt.works(
                        inProcess.begin(run, attempt.task(), action, found -> end(attempt, found, Optional.empty())));
            }
        } catch (IOException | ExpressionException e) {
            failed(attempt, e.getMessage(), false);
        } catch (Throwable e) {
            LOG.warn("run {} cannot be begun", attempt.run().number(), e);
            failed(attempt, said(e), true);
        }
    }

    /** Waits for whoever does the work to tell of its end. */
    private void waitFor(Attempt attempt) {
        attempt.works(outside.begin(attempt.run(), (found, code) -> end(attempt, found, code)));
    }

    /** A command that was started all the same is followed, whatever went wrong beside it. */
    private void failed(Attempt attempt, String why, boolean unsure) {
        if (attempt.folder().isClaimed()) {
            watch(attempt);
        } else {
            refuse(attempt, why, unsure);
        }
    }

    private void launch(Attempt attempt, Command written) throws IOException, InterruptedException {
        boolean here = !actors.isElsewhere(attempt.task());
        Optional<Account> account = actors.account(attempt.task());
        var brought = sources.bring(attempt, written, here, text -> news(attempt, text));
        Command command = brought.command();
        Optional<String> complaint = brought.isStopped()
                ? Optional.of(STOPPED)
                : here ? programs.complaint(command, account, actors.own()) : Optional.empty();
        if (complaint.isPresent()) {
            refuse(attempt, complaint.get(), false);
            return;
        }
        Run run = attempt.run();
        Map<String, String> secrets = actors.secrets(command, attempt.task(), run);
        var environment = new LinkedHashMap<>(Launcher.facts(run));
        environment.putAll(SourceFolder.told(attempt.folder()));
        environment.putAll(secrets);
        var covered = new ArrayList<>(secrets.values());
        attempt.cover(secrets.values());
        covered.addAll(values.secrets(run).values());
        boolean errorsApart = attempt.task().outcome().errorStream() != OutcomeRule.ErrorStream.ALLOWED;
        String input = command.input() == Command.Input.VALUES ? values.asJson(run) : "";
        if (here) {
            environment.putAll(ResultFile.prepare(attempt.folder(), account, files.of(run)));
            var manner = new Launcher.Manner(account, covered, errorsApart, input);
            Process process = launcher.launch(attempt.folder(), command, environment, manner);
            follow(attempt, process.onExit().thenApply(ended -> Optional.of(ended.exitValue())), process.pid());
            return;
        }
        environment.putAll(command.environment());
        var order = new Elsewhere.Order(
                run.attempt() == 1 ? String.valueOf(run.number()) : run.number() + "-try-" + run.attempt(),
                actors.open(attempt.task(), run).orElseThrow(),
                command,
                environment,
                covered,
                errorsApart,
                input,
                files.of(run),
                brought.source(),
                attempt.folder(),
                new FetchedLog(logs, attempt),
                attempt.leavesFiles(),
                (there, worked) -> aftermaths.there(attempt, there, worked, cover(attempt)));
        attempt.works(elsewhere.begin(order, listener(attempt)));
    }

    private Elsewhere.Listener listener(Attempt attempt) {
        return new Elsewhere.Listener() {
            @Override
            public void news(String text) {
                Attempts.this.news(attempt, text);
            }

            @Override
            public void goesOn() {
                Attempts.this.goesOn(attempt);
            }

            @Override
            public void ended(TaskResult found) {
                end(attempt, found, Optional.empty());
            }

            @Override
            public void refused(String why) {
                refuse(attempt, why, false);
            }
        };
    }

    private void goesOn(Attempt attempt) {
        if (attempt.heardOf()) {
            told.accept(new Report.GoesOn(attempt.run().number()));
        }
    }

    private void news(Attempt attempt, String text) {
        told.accept(new Report.News(attempt.run().number(), text));
    }

    /** Follows a command that somebody has started, by the mark that it left. */
    private void watch(Attempt attempt) {
        Optional<ProcessMark> mark = attempt.folder().process().or(attempt.folder()::claim);
        follow(
                attempt,
                mark.map(this::gone).orElseGet(() -> CompletableFuture.completedFuture(Optional.empty())),
                mark.map(ProcessMark::pid).orElse(-1L));
        if (mark.filter(ProcessMark::isAlive).isPresent()) {
            goesOn(attempt);
        }
    }

    /** Comes when a process is not there any more: this one is not its parent, so nobody says so. */
    private CompletableFuture<Optional<Integer>> gone(ProcessMark mark) {
        var gone = new CompletableFuture<Optional<Integer>>();
        ScheduledFuture<?> look = looks.scheduleWithFixedDelay(
                () -> {
                    if (!mark.isAlive()) {
                        gone.complete(Optional.empty());
                    }
                },
                0,
                OFTEN.toMillis(),
                TimeUnit.MILLISECONDS);
        gone.whenComplete((code, e) -> look.cancel(false));
        return gone;
    }

    /** Looks through what a command left as soon as it has ended and nothing of it is alive. */
    private void follow(Attempt attempt, CompletableFuture<Optional<Integer>> exit, long session) {
        boolean ends = attempt.task().leftovers() == Leftovers.END;
        if (ends) {
            leftBehind.guard(attempt.folder(), session, exit, actors.account(attempt.task()));
        }
        exit.thenAcceptAsync(code -> ended(attempt, code, session, ends), this.ends);
    }

    private void ended(Attempt attempt, Optional<Integer> code, long session, boolean endsOthers) {
        if (code.filter(Launcher::isClaimedByAnother).isPresent()
                && !attempt.folder().isMine(session)) {
            // an earlier service had started it, and was only not heard of yet
            watch(attempt);
            return;
        }
        boolean untold = !attempt.mayHaveBeenTold();
        String note = "";
        try {
            if (endsOthers) {
                note = leftBehind.end(session, attempt, actors.account(attempt.task()));
            } else {
                leftBehind.letGo(session);
            }
        } catch (Throwable e) {
            LOG.warn("what run {} left behind cannot be ended", attempt.run().number(), e);
            note = "what it left behind could not be ended: " + said(e);
        }
        if (!note.isEmpty()) {
            news(attempt, note);
        }
        TaskResult found;
        try {
            logs.ended(attempt.run().number());
            found = aftermaths.here(attempt, cover(attempt));
        } catch (Throwable e) {
            found = TaskResult.NOTHING.without("what it left could not be looked through: " + said(e));
        }
        end(attempt, untold ? found.beforeToldToStop() : found, code);
    }

    private UnaryOperator<String> cover(Attempt attempt) {
        return text -> {
            // what is to be covered may become more while it goes on
            var secrets = new ArrayList<>(attempt.covered());
            secrets.addAll(values.secrets(attempt.run()).values());
            return Mask.of(secrets).over(text);
        };
    }

    private void signalNow(Attempt attempt, Optional<InProcess.UnderWay> told, Instant until) {
        try {
            told.ifPresent(InProcess.UnderWay::stop);
            if (attempt.isOver() || attempt.task().command().isEmpty()) {
                return;
            }
            Optional<ProcessMark> mark = attempt.folder().process();
            if (mark.isPresent()) {
                if (attempt.folder().exit().isEmpty()) {
                    attempt.isTold();
                }
                leftBehind.signal(mark.get(), attempt, actors.account(attempt.task()));
            } else if (!actors.isElsewhere(attempt.task()) && clock.instant().isBefore(until)) {
                // it is about to begin: it is asked as soon as it can hear
                Runnable again = () -> signals.execute(() -> signalNow(attempt, Optional.empty(), until));
                looks.schedule(again, SOON.toMillis(), TimeUnit.MILLISECONDS);
            }
        } catch (IOException | RuntimeException e) {
            LOG.warn("run {} cannot be sent a signal: {}", attempt.run().number(), e.getMessage());
        }
    }

    private void end(Attempt attempt, TaskResult found, Optional<Integer> code) {
        try {
            Optional<RunFolder.Exit> left =
                    attempt.task().command().isPresent() ? attempt.folder().exit() : Optional.empty();
            TaskResult told = found.with(logs.end(attempt.run().number()));
            if (attempt.task().command().isPresent()) {
                ResultFile.Left result = ResultFile.read(attempt.folder());
                told = told.with(result.values()).with(SourceFolder.values(attempt.folder()));
                SourceFolder.remove(attempt.folder(), actors.account(attempt.task()));
                told = result.trouble().isEmpty() ? told : told.without(result.trouble());
            }
            Finish finish = endings.of(attempt, left, code, told);
            end(attempt, finish, left.map(RunFolder.Exit::at).orElse(clock.instant()));
        } catch (Throwable e) {
            LOG.warn("the end of run {} cannot be told whole", attempt.run().number(), e);
            end(
                    attempt,
                    Finish.of(new Ending(RunState.FAILED, "how it ended could not be told: " + said(e))),
                    clock.instant());
        }
    }

    private void end(Attempt attempt, Finish finish, Instant at) {
        if (attempt.ends()) {
            told.accept(new Report.Ended(attempt.run().number(), finish, at));
        }
    }

    private void refuse(Attempt attempt, String why, boolean unsure) {
        SourceFolder.remove(attempt.folder(), actors.account(attempt.task()));
        if (attempt.ends()) {
            told.accept(new Report.Refused(attempt.run().number(), why, unsure));
        }
    }

    private static String said(Throwable e) {
        return e.getMessage() == null ? e.getClass().getSimpleName() : e.getMessage();
    }

    @Override
    public void destroy() {
        looks.shutdownNow();
        starts.shutdown();
        signals.shutdown();
        ends.shutdown();
        packing.shutdown();
    }
}
