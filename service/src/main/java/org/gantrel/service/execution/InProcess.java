package org.gantrel.service.execution;

import java.util.function.Consumer;
import org.gantrel.core.action.Action;
import org.gantrel.core.job.Job;
import org.gantrel.service.run.Run;

/** Does the work that needs no process of its own: requests, statements, checks, files, mails. */
public interface InProcess {

    /** Work that is under way. */
    interface UnderWay {
        /** Asks it to stop; it ends soon after. */
        void stop();

        /** Its end is written down; what was kept until then may go. */
        default void settled() {}
    }

    /**
     * Begins a task's work and comes back at once.
     *
     * @param action what is to be done, every expression worked out
     * @param ended is told how it ended, once, from another thread
     */
    UnderWay begin(Run run, Job.Task task, Action action, Consumer<TaskResult> ended);
}
