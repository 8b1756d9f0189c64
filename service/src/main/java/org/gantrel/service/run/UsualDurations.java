package org.gantrel.service.run;

import java.time.Duration;
import java.util.List;
import java.util.Optional;
import org.gantrel.core.run.RunState;
import org.gantrel.service.cache.CommittedCache;
import org.gantrel.service.job.RunFacts;
import org.springframework.context.event.EventListener;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** What the history says of a job: its latest run, and how long a good one usually takes. */
@Component
class UsualDurations implements RunFacts {

    private final RunStore store;
    private final CommittedCache<Long, Optional<Duration>> kept = new CommittedCache<>(5_000);

    UsualDurations(RunStore store) {
        this.store = store;
    }

    @Override
    @Transactional(readOnly = true)
    public Optional<LastRun> last(long jobId) {
        return store.findTopByJobIdOrderByNumberDesc(jobId)
                .map(RunRecord::value)
                .map(run -> new LastRun(
                        run.number(),
                        run.state().word(),
                        run.plannedAt(),
                        run.finishedAt().orElse(null),
                        run.message()));
    }

    @Override
    @Transactional(readOnly = true)
    public Optional<Duration> usual(long jobId) {
        return kept.get(jobId, this::read);
    }

    @EventListener
    void follow(RunEnding ended) {
        kept.changed(ended.run().jobId());
    }

    private Optional<Duration> read(long jobId) {
        List<Duration> sorted = store
                .findTop20ByJobIdAndStateInOrderByNumberDesc(jobId, List.of(RunState.SUCCEEDED, RunState.WARNED))
                .stream()
                .flatMap(run -> run.value().took().stream())
                .sorted()
                .toList();
        return sorted.isEmpty() ? Optional.empty() : Optional.of(sorted.get(sorted.size() / 2));
    }
}
