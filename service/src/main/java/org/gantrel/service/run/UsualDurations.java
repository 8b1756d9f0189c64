package org.gantrel.service.run;

import java.time.Duration;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import org.gantrel.core.run.RunState;
import org.gantrel.service.job.RunFacts;
import org.springframework.context.event.EventListener;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** What the history says of a job: its latest run, and how long a good one usually takes. */
@Component
class UsualDurations implements RunFacts {

    private static final int KEPT = 20;

    private final RunStore store;
    private final Map<Long, Deque<Duration>> latest = new ConcurrentHashMap<>();

    UsualDurations(RunStore store) {
        this.store = store;
    }

    @Override
    @Transactional(readOnly = true)
    public Optional<LastRun> last(long jobId) {
        return store.findTopByJobIdOrderByNumberDesc(jobId)
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
        Deque<Duration> durations = latest.computeIfAbsent(jobId, this::read);
        synchronized (durations) {
            List<Duration> sorted = durations.stream().sorted().toList();
            return sorted.isEmpty() ? Optional.empty() : Optional.of(sorted.get(sorted.size() / 2));
        }
    }

    @EventListener
    void follow(RunEnded ended) {
        RunRecord run = ended.run();
        Deque<Duration> durations = latest.get(run.jobId());
        if (durations == null || !run.state().isGood()) {
            return;
        }
        synchronized (durations) {
            run.took().ifPresent(durations::addFirst);
            if (durations.size() > KEPT) {
                durations.removeLast();
            }
        }
    }

    private Deque<Duration> read(long jobId) {
        var durations = new ArrayDeque<Duration>();
        store.findTop20ByJobIdAndStateInOrderByNumberDesc(jobId, List.of(RunState.SUCCEEDED, RunState.WARNED))
                .forEach(run -> run.took().ifPresent(durations::addLast));
        return durations;
    }
}
