package org.gantrel.service.execution;

import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.CopyOnWriteArrayList;
import org.gantrel.core.job.Job;
import org.gantrel.core.run.Effect.Signal.Force;
import org.gantrel.service.run.Run;

/** One try of a task while it is under way, as the supervisor follows it. Threads of its own work on it. */
final class Attempt {

    private final Run run;
    private final Job.Task task;
    private final RunFolder folder;
    private Optional<InProcess.UnderWay> work = Optional.empty();
    private Optional<Force> wanted = Optional.empty();
    private boolean told;
    private boolean unheardOf;
    private boolean over;

    private final List<String> covered = new CopyOnWriteArrayList<>();

    Attempt(Run run, Job.Task task, RunFolder folder) {
        this.run = run;
        this.task = task;
        this.folder = folder;
    }

    /** Notes what must not be readable in what is told of it, beside the secrets among its values. */
    void cover(Collection<String> secrets) {
        covered.addAll(secrets);
    }

    List<String> covered() {
        return List.copyOf(covered);
    }

    /** Whether what it leaves in the folder that it works in is looked at. */
    boolean leavesFiles() {
        return !task.outputs().files().isEmpty()
                || !task.outcome().testResults().isEmpty();
    }

    Run run() {
        return run;
    }

    Job.Task task() {
        return task;
    }

    RunFolder folder() {
        return folder;
    }

    /**
     * Notes that it is to stop.
     *
     * @return what is under way in this process, or on another host, and is to be told so; what begins later tells itself
     */
    synchronized Optional<InProcess.UnderWay> stop(Force force) {
        wanted = Optional.of(force);
        return work;
    }

    /** Whether it was asked to stop, and how. */
    synchronized Optional<Force> wanted() {
        return wanted;
    }

    /** Notes that its command is about to be told to stop. */
    synchronized void isTold() {
        told = true;
    }

    /** Whether its command was told to stop, by this service or perhaps one before. */
    synchronized boolean mayHaveBeenTold() {
        return told || run.stop().isAsked();
    }

    /** Takes hold of the work; where a stop was asked for meanwhile, it is told at once. */
    void works(InProcess.UnderWay begun) {
        boolean stopped;
        synchronized (this) {
            work = Optional.of(begun);
            stopped = wanted.isPresent();
        }
        if (stopped) {
            begun.stop();
        }
    }

    synchronized Optional<InProcess.UnderWay> work() {
        return work;
    }

    /** Notes that it is not known whether it has ended while no service ran. */
    synchronized void unheardOf() {
        unheardOf = true;
    }

    /** Notes that something is known of it; says whether nothing was before. */
    synchronized boolean heardOf() {
        boolean first = unheardOf;
        unheardOf = false;
        return first;
    }

    /** Notes that its end is told; says whether it was not before. */
    synchronized boolean ends() {
        boolean first = !over;
        over = true;
        return first;
    }

    synchronized boolean isOver() {
        return over;
    }
}
