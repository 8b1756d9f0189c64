package org.gantrel.service.execution;

import java.io.IOException;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.concurrent.CompletableFuture;
import org.gantrel.core.job.Job;
import org.gantrel.service.run.RunEnded;
import org.gantrel.service.run.RunRecord;
import org.gantrel.service.run.Runs;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;
import org.springframework.transaction.event.TransactionalEventListener;
import org.springframework.util.FileSystemUtils;

/** Deletes the outputs of a job's runs after their time. It looks whenever a run of that job ends. */
@Component
class OutputRetention {

    private static final Logger LOG = LoggerFactory.getLogger(OutputRetention.class);

    private final Runs runs;
    private final Launcher launcher;
    private final Clock clock;

    OutputRetention(Runs runs, Launcher launcher, Clock clock) {
        this.runs = runs;
        this.launcher = launcher;
        this.clock = clock;
    }

    @TransactionalEventListener
    void follow(RunEnded ended) {
        RunRecord run = ended.run();
        if (run.isChain() || run.isSweep() || !(runs.jobOf(run) instanceof Job.Task task)) {
            return;
        }
        task.outputs().keep().ifPresent(keep -> {
            Instant before = clock.instant().minus(keep);
            CompletableFuture.runAsync(() -> delete(runs.endedBefore(run.jobId(), before)));
        });
    }

    private void delete(List<Long> numbers) {
        for (Long number : numbers) {
            Path outputs = launcher.folder(number).outputs();
            try {
                FileSystemUtils.deleteRecursively(outputs);
            } catch (IOException e) {
                LOG.warn("{} cannot be deleted: {}", outputs, e.getMessage());
            }
        }
    }
}
