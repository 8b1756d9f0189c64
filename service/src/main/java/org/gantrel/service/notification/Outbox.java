package org.gantrel.service.notification;

import java.time.Instant;
import java.util.List;
import org.gantrel.core.job.Job;
import org.gantrel.core.run.RunState;
import org.gantrel.service.execution.Execution;
import org.gantrel.service.execution.Mask;
import org.gantrel.service.run.RunEnded;
import org.gantrel.service.run.RunRecord;
import org.gantrel.service.run.Runs;
import org.gantrel.service.settings.Settings;
import org.springframework.context.event.EventListener;
import org.springframework.stereotype.Component;

/** Writes a mail for each address that a job names, in the transaction in which its run fails. */
@Component
class Outbox {

    private static final int LINES_OF_LOG = 20;

    private final DeliveryStore store;
    private final Runs runs;
    private final Execution execution;
    private final Settings settings;
    private final Courier courier;

    Outbox(DeliveryStore store, Runs runs, Execution execution, Settings settings, Courier courier) {
        this.store = store;
        this.runs = runs;
        this.execution = execution;
        this.settings = settings;
        this.courier = courier;
    }

    @EventListener
    void follow(RunEnded ended) {
        RunRecord run = ended.run();
        if (run.state() != RunState.FAILED && run.state() != RunState.TIMED_OUT) {
            return;
        }
        Job job = runs.jobOf(run);
        if (job.mailOnFailure().isEmpty()) {
            return;
        }
        Instant at = run.finishedAt().orElseThrow();
        String subject = run.jobName() + " " + run.state().word().replace('-', ' ') + " (run " + run.number() + ")";
        String body = body(run, job);
        job.mailOnFailure()
                .forEach(address ->
                        store.save(new DeliveryRecord(run.number(), run.teamId(), address, subject, body, at)));
        courier.wakeAfterCommit();
    }

    private String body(RunRecord run, Job job) {
        var text = new StringBuilder();
        text.append(run.jobName()).append(' ').append(run.state().word().replace('-', ' '));
        text.append(": ").append(run.message()).append("\n\n");
        if (!job.about().isEmpty()) {
            text.append("What it is for: ").append(job.about()).append('\n');
        }
        text.append("Planned for:    ").append(run.plannedAt()).append('\n');
        text.append("Started by:     ")
                .append(run.cause().word())
                .append(' ')
                .append(run.causeRef())
                .append('\n');
        run.parameters().forEach((name, value) -> text.append("With:           ")
                .append(name)
                .append(" = ")
                .append(value)
                .append('\n'));
        text.append("Look at it:     ")
                .append(settings.url())
                .append("/runs/")
                .append(run.number())
                .append('\n');
        List<String> lines = execution.folder(run.number()).lastLines(LINES_OF_LOG);
        if (!lines.isEmpty()) {
            text.append("\nThe end of its log:\n\n");
            Mask mask = Mask.of(runs.secrets(run));
            lines.forEach(line -> text.append("  ").append(mask.over(line)).append('\n'));
        }
        return text.toString();
    }
}
