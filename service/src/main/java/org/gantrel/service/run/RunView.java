package org.gantrel.service.run;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.Duration;
import java.time.Instant;
import java.util.Map;
import org.gantrel.core.run.RunStatus;

/**
 * A run.
 *
 * @param cause what started it: schedule, person, trigger, chain, sweep, repeat or retry
 * @param causeRef what the cause refers to: the schedule's name, the person, the number of a run
 * @param plannedAt the instant that its values are worked out from
 * @param took how long it took; missing until it ended
 * @param waitingFor what it waits for; missing unless it waits
 * @param takenBy who sees to its failure; missing where nobody does
 * @param retryAt when its next try comes; missing unless it waits for that
 * @param deadline when it is to have ended
 * @param gatesSkipped who chose not to wait for its gates
 * @param progress how far it says it is, in lists while it is under way; missing where it says nothing
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record RunView(
        long number,
        String job,
        String team,
        String kind,
        int revision,
        String state,
        String cause,
        String causeRef,
        String starter,
        Instant plannedAt,
        Instant queuedAt,
        Instant startedAt,
        Instant finishedAt,
        Duration took,
        String actsAs,
        Map<String, String> parameters,
        Map<String, String> results,
        int attempt,
        Integer exitCode,
        String message,
        String waitingFor,
        Long parent,
        String step,
        String takenBy,
        Instant retryAt,
        Instant deadline,
        boolean late,
        boolean unusuallyLong,
        String gatesSkipped,
        RunProgress.Said progress) {

    public static RunView of(Run run, String team) {
        return of(run, team, null);
    }

    static RunView of(Run run, String team, RunProgress.Said progress) {
        return new RunView(
                run.number(),
                run.jobName(),
                team,
                run.kind(),
                run.revision(),
                run.state().word(),
                run.cause().word(),
                run.causeRef(),
                some(run.starter()),
                run.plannedAt(),
                run.queuedAt(),
                run.startedAt().orElse(null),
                run.finishedAt().orElse(null),
                run.took().orElse(null),
                some(run.actsAs()),
                run.parameters(),
                run.results().isEmpty() ? null : run.results(),
                run.attempt(),
                run.exitCode().orElse(null),
                some(run.message()),
                some(run.waitingFor()),
                run.parent().orElse(null),
                some(run.step()),
                some(run.takenBy()),
                run.again().map(RunStatus.Again::at).orElse(null),
                run.deadline().orElse(null),
                run.late(),
                run.unusuallyLong(),
                some(run.gatesSkipped()),
                progress);
    }

    private static String some(String text) {
        return text == null || text.isEmpty() ? null : text;
    }
}
