package org.gantrel.service.execution;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.Optional;
import org.gantrel.core.job.Job;
import org.gantrel.core.run.Ending;
import org.gantrel.core.run.Given;
import org.gantrel.core.run.Item;
import org.gantrel.core.run.RunState;
import org.gantrel.service.run.Finish;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.RunValues;
import org.springframework.stereotype.Component;

/** Says how work ended by itself, so that nobody has to hunt for the reason. */
@Component
class Endings {

    /** A higher code, with none left in the folder, is that of the shell that should have left one: a signal ended it. */
    private static final int LAST_PLAIN_CODE = 128;

    private final RunValues values;
    private final Launcher launcher;

    Endings(RunValues values, Launcher launcher) {
        this.values = values;
        this.launcher = launcher;
    }

    /**
     * The end of an attempt.
     *
     * @param left the exit code that the command left in its folder
     * @param code that of the process that should have left one
     */
    Finish of(Attempt attempt, Optional<RunFolder.Exit> left, Optional<Integer> code, TaskResult found) {
        Optional<Integer> number = left.map(RunFolder.Exit::code).or(() -> code);
        Ending ending = found.ending()
                .orElseGet(() -> number.filter(value -> left.isPresent() || value <= LAST_PLAIN_CODE)
                        .map(value -> attempt.task().outcome().ending(value, found.evidence()))
                        .map(byCode -> explained(attempt, withoutLost(byCode, found.lost()), left.isPresent()))
                        .orElseGet(() -> new Ending(
                                RunState.FAILED,
                                "its process ended without leaving an exit code: it was killed from outside, or the host"
                                        + " restarted")));
        Given given = Given.of(attempt.task().gives(), found.results());
        String wrong = given.complaints().isEmpty() ? "" : "it " + String.join(", and ", given.complaints());
        return covered(
                new Finish(
                        withoutLost(ending, wrong),
                        doubt(attempt.task(), found),
                        number,
                        found.items(),
                        given.values(),
                        found.untold()),
                attempt);
    }

    /** All that is told of an end, its secrets covered: what a command writes into its results is what it likes. */
    private Finish covered(Finish finish, Attempt attempt) {
        var secrets = new ArrayList<>(values.secrets(attempt.run()).values());
        secrets.addAll(attempt.covered());
        if (secrets.isEmpty()) {
            return finish;
        }
        Mask mask = Mask.of(secrets);
        var results = new LinkedHashMap<String, String>();
        finish.results().forEach((name, value) -> results.put(mask.over(name), mask.over(value)));
        return new Finish(
                new Ending(finish.ending().state(), mask.over(finish.ending().message())),
                mask.over(finish.doubt()),
                finish.exitCode(),
                finish.items().stream()
                        .map(item -> Item.of(mask.over(item.name()), item.state(), mask.over(item.seen()))
                                .after(item.took()))
                        .toList(),
                results,
                finish.untold());
    }

    /** Of a command that could not be reached nobody knows whether it stopped. */
    private static String doubt(Job.Task task, TaskResult found) {
        return found.ending()
                .filter(end -> task.command().isPresent())
                .map(Ending::message)
                .orElse("");
    }

    /** An end that was good is one with warnings where an output could not be kept. */
    private static Ending withoutLost(Ending ending, String lost) {
        return lost.isEmpty() || ending.state() != RunState.SUCCEEDED
                ? ending
                : new Ending(RunState.WARNED, ending.message() + "; " + lost);
    }

    /** Adds to a bad end what the command said last. */
    private Ending explained(Attempt attempt, Ending byCode, boolean codeKept) {
        Run run = attempt.run();
        String message = byCode.message();
        if (byCode.message().matches("exit code \\d+\\b[^:;]*") && byCode.state() != RunState.SUCCEEDED) {
            String said = attempt.folder().lastLines(5).stream()
                    .filter(line -> !line.isBlank())
                    .reduce((earlier, later) -> later)
                    .map(line -> ": " + Mask.of(values.secrets(run)).over(line))
                    .orElse("");
            message += said;
        }
        if (codeKept) {
            return new Ending(byCode.state(), message);
        }
        String lost =
                launcher.noRoom().orElse("its files in " + attempt.folder().path() + " could not be written");
        return new Ending(RunState.FAILED, message + "; its log is not whole: " + lost);
    }
}
