package org.gantrel.service.execution;

import java.util.Optional;
import org.gantrel.core.job.Job;
import org.gantrel.core.run.Ending;
import org.gantrel.core.run.RunState;
import org.gantrel.core.text.Words;
import org.gantrel.service.run.RunRecord;
import org.gantrel.service.run.Runs;
import org.springframework.stereotype.Component;

/** Says how a command ended, so that nobody has to hunt for the reason. */
@Component
class Endings {

    /** A higher code, with none left in the folder, is that of the shell that should have left one: a signal ended it. */
    private static final int LAST_PLAIN_CODE = 128;

    private final Runs runs;
    private final Launcher launcher;

    Endings(Runs runs, Launcher launcher) {
        this.runs = runs;
        this.launcher = launcher;
    }

    /**
     * An exit code.
     *
     * @param left whether the command left it in its folder; otherwise it is that of the process
     */
    record Code(Optional<Integer> number, boolean left) {}

    Ending of(RunRecord run, Job.Task task, RunFolder folder, Code code, Found found) {
        switch (run.stopping()) {
            case LIMIT -> {
                String limit = task.timeLimit().map(Words::duration).orElse("");
                return new Ending(RunState.TIMED_OUT, "stopped at its time limit of " + limit + unknown(task, found));
            }
            case CANCEL -> {
                return new Ending(RunState.CANCELLED, "cancelled by " + run.stoppedBy() + unknown(task, found));
            }
            default -> {
                if (found.ending().isPresent()) {
                    return found.ending().get();
                }
                return code.number()
                        .filter(number -> code.left() || number <= LAST_PLAIN_CODE)
                        .map(number -> task.outcome().ending(number, found.evidence()))
                        .map(byCode -> explained(run, withoutLost(byCode, found.lost()), folder, code.left()))
                        .orElseGet(() -> new Ending(
                                RunState.FAILED,
                                "its process ended without leaving an exit code: it was killed from outside, or the"
                                        + " host restarted"));
            }
        }
    }

    /** Of a command that could not be reached nobody knows whether it stopped. */
    private static String unknown(Job.Task task, Found found) {
        return found.ending()
                .filter(end -> task.command().isPresent())
                .map(end -> "; " + end.message())
                .orElse("");
    }

    /** An end that was good is one with warnings where an output could not be kept. */
    private static Ending withoutLost(Ending ending, String lost) {
        return lost.isEmpty() || ending.state() != RunState.SUCCEEDED
                ? ending
                : new Ending(RunState.WARNED, ending.message() + "; " + lost);
    }

    /** Adds to a bad end what the command said last. */
    private Ending explained(RunRecord run, Ending byCode, RunFolder folder, boolean codeKept) {
        String message = byCode.message();
        if (byCode.message().matches("exit code \\d+\\b[^:;]*") && byCode.state() != RunState.SUCCEEDED) {
            String said = folder.lastLines(5).stream()
                    .filter(line -> !line.isBlank())
                    .reduce((earlier, later) -> later)
                    .map(line -> ": " + Mask.of(runs.secrets(run)).over(line))
                    .orElse("");
            message += said;
        }
        if (codeKept) {
            return new Ending(byCode.state(), message);
        }
        String lost = launcher.noRoom().orElse("its files in " + folder.path() + " could not be written");
        return new Ending(RunState.FAILED, message + "; its log is not whole: " + lost);
    }
}
