package org.gantrel.service.work;

import java.io.IOException;
import java.nio.file.FileSystemException;
import java.sql.SQLException;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.ThreadPoolExecutor;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.Consumer;
import org.gantrel.core.action.Action;
import org.gantrel.core.credential.Credential;
import org.gantrel.core.job.Job;
import org.gantrel.core.run.Ending;
import org.gantrel.core.run.RunState;
import org.gantrel.service.execution.AccountHands;
import org.gantrel.service.execution.Actors;
import org.gantrel.service.execution.InProcess;
import org.gantrel.service.execution.RunFolder;
import org.gantrel.service.execution.SourceTaking;
import org.gantrel.service.execution.TaskResult;
import org.gantrel.service.places.FileTrouble;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.RunValues;
import org.gantrel.service.settings.Settings;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.beans.factory.DisposableBean;
import org.springframework.stereotype.Component;

/** The threads in which work of this process is done; as many as runs may go at once. */
@Component
class TaskExecutor implements InProcess, DisposableBean {

    private static final Logger LOG = LoggerFactory.getLogger(TaskExecutor.class);

    private final RunValues values;
    private final Actors actors;
    private final AccountHands hands;
    private final SourceTaking sources;
    private final Settings settings;
    private final Map<Class<?>, ActionExecutor<?>> performers = new HashMap<>();
    private final ExecutorService threads;

    TaskExecutor(
            List<ActionExecutor<?>> performers,
            RunValues values,
            Actors actors,
            AccountHands hands,
            SourceTaking sources,
            Settings settings) {
        this.sources = sources;
        this.hands = hands;
        performers.forEach(each -> this.performers.put(each.type(), each));
        this.values = values;
        this.actors = actors;
        this.settings = settings;
        var count = new AtomicInteger();
        var pool = new ThreadPoolExecutor(
                settings.limits().runsAtOnce(),
                settings.limits().runsAtOnce(),
                30,
                TimeUnit.SECONDS,
                new LinkedBlockingQueue<>(),
                task -> {
                    var thread = new Thread(task, "worker-" + count.incrementAndGet());
                    thread.setDaemon(true);
                    return thread;
                });
        pool.allowCoreThreadTimeOut(true);
        this.threads = pool;
    }

    @Override
    public UnderWay begin(Run run, Job.Task task, Action action, Consumer<TaskResult> ended) {
        try {
            Optional<Credential> actor = actors.open(task, run);
            var work = new Execution(
                    run,
                    RunFolder.of(settings.runsFolder(), run.number()),
                    List.copyOf(values.secrets(run).values()),
                    actor,
                    name -> actors.open(name, task, run),
                    () -> hands.of(task.team(), task),
                    (source, stopped) -> sources.take(task, source, name -> actors.open(name, task, run), stopped));
            threads.execute(() -> ended.accept(perform(action, work)));
            return work::stop;
        } catch (Refusal e) {
            ended.accept(TaskResult.ended(failed("not started: " + e.getMessage()), List.of(), Map.of()));
            return () -> {};
        }
    }

    /** What a task's work would do. */
    List<ActionExecutor.Rehearsed> rehearse(Job.Task task, Action action, Optional<Credential> actor) {
        return rehearse(performers.get(action.getClass()), action, rehearsing(task, actor));
    }

    /** What a rehearsal of a task may use. */
    ActionExecutor.Rehearsing rehearsing(Job.Task task, Optional<Credential> actor) {
        return new ActionExecutor.Rehearsing(
                actor,
                name -> actors.openToRehearse(name, task),
                () -> hands.of(task.team(), task),
                (source, stopped) -> sources.take(task, source, name -> actors.openToRehearse(name, task), stopped));
    }

    private static <A extends Action> List<ActionExecutor.Rehearsed> rehearse(
            ActionExecutor<A> performer, Action action, ActionExecutor.Rehearsing around) {
        return performer.rehearse(performer.type().cast(action), around);
    }

    private TaskResult perform(Action action, Execution work) {
        try (work) {
            work.open();
            Ending ending = perform(performers.get(action.getClass()), action, work);
            if (ending.state() != RunState.SUCCEEDED) {
                work.say(ending.message());
            }
            return TaskResult.ended(
                    new Ending(ending.state(), work.cover(ending.message())), work.items(), work.results());
        } catch (IOException e) {
            return TaskResult.ended(failed(work.cover(e.toString())), work.items(), work.results());
        }
    }

    private static <A extends Action> Ending perform(ActionExecutor<A> performer, Action action, Execution work) {
        try {
            return performer.perform(performer.type().cast(action), work);
        } catch (InterruptedException e) {
            return failed("it was interrupted");
        } catch (WorkFailed | SQLException e) {
            return failed(e.getMessage());
        } catch (FileSystemException e) {
            return failed(FileTrouble.sentence(e));
        } catch (Throwable e) {
            // whatever it is, the run ends
            LOG.debug("run {}", work.run().number(), e);
            return failed(e.getMessage() == null ? e.toString() : e.getMessage());
        }
    }

    private static Ending failed(String message) {
        return new Ending(RunState.FAILED, message);
    }

    @Override
    public void destroy() {
        threads.shutdownNow();
    }
}
