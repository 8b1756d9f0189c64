package org.gantrel.core.trigger;

import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import org.gantrel.core.action.FileWork;
import org.gantrel.core.event.EventType;
import org.gantrel.core.expression.Template;
import org.gantrel.core.job.Job;

/** Whether a job puts files where one of its own triggers sees them arrive: it would start itself for ever. */
public final class OwnFolder {

    private OwnFolder() {}

    /** What is to be warned of, for each trigger that sees what the job itself leaves. */
    public static List<String> warnings(Job job) {
        return job instanceof Job.Task task && task.action() instanceof FileWork work
                ? task.triggers().stream()
                        .flatMap(trigger -> warning(trigger, work).stream())
                        .toList()
                : List.of();
    }

    private static Optional<String> warning(Trigger trigger, FileWork work) {
        boolean keepsNames = work.deed() != FileWork.Deed.COMPRESS && work.deed() != FileWork.Deed.LIST;
        boolean comes = trigger.on() == EventType.FILE_ARRIVED || trigger.on() == EventType.FILE_CHANGED;
        if (!keepsNames
                || !comes
                || work.to().isEmpty()
                || Template.of(work.to()).hasExpressions()) {
            return Optional.empty();
        }
        return trigger.source()
                .files()
                .filter(watch -> watch.host().isEmpty() && sees(watch, work.to()))
                .map(watch -> "trigger " + trigger.name() + ": what goes to " + work.to()
                        + " arrives in the folder that it watches, and starts the job again, without an end; "
                        + (watch.deepest() > 1 ? "another folder or a lower 'deep'" : "another folder")
                        + " would be right");
    }

    private static boolean sees(FileWatch watch, String to) {
        Path folder = Path.of(watch.folder()).normalize();
        Path target = Path.of(to).normalize();
        if (!target.startsWith(folder)) {
            return false;
        }
        int between = target.getNameCount() - folder.getNameCount();
        return between < watch.deepest();
    }
}
