package org.gantrel.service.run;

import java.time.Clock;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.job.Job;
import org.gantrel.core.parameter.Parameters;
import org.gantrel.core.run.RunState;
import org.gantrel.service.cache.CommittedCache;
import org.gantrel.service.job.RunFacts;
import org.springframework.context.event.EventListener;
import org.springframework.data.domain.Limit;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** What the history says of a job: its latest run, and how long a good one usually takes. */
@Component
class UsualDurations implements RunFacts {

    private final RunStore store;
    private final RunValues values;
    private final ByHand byHand;
    private final Clock clock;
    /** What is known of single runs, and of sweeps. */
    private record Usual(Optional<Duration> single, Optional<Duration> sweep, int count) {}

    private final CommittedCache<Long, Usual> kept = new CommittedCache<>(5_000);

    UsualDurations(RunStore store, RunValues values, ByHand byHand, Clock clock) {
        this.store = store;
        this.values = values;
        this.byHand = byHand;
        this.clock = clock;
    }

    @Override
    public Map<String, Parameters.Default> defaults(Job job) {
        return values.defaults(job, byHand.planned(job, clock.instant()));
    }

    @Override
    @Transactional(readOnly = true)
    public Optional<LastRun> last(long jobId) {
        return newestOwn(jobId)
                .map(run -> new LastRun(
                        run.number(),
                        run.state().word(),
                        run.plannedAt(),
                        run.finishedAt().orElse(null),
                        run.message()));
    }

    /** A row says how that row ended: for all of them the sweep answers, which is older than they are. */
    private Optional<Run> newestOwn(long jobId) {
        Optional<Run> newest = first(store.newest(jobId, Limit.of(1)));
        return newest.filter(Run::isRow).flatMap(Run::parent).isPresent()
                ? first(store.newestOwn(jobId, newest.get().parent().orElseThrow(), Limit.of(1)))
                : newest;
    }

    private static Optional<Run> first(List<RunRecord> found) {
        return found.stream().findFirst().map(RunRecord::value);
    }

    @Override
    @Transactional(readOnly = true)
    public Optional<Duration> usual(long jobId) {
        return kept.get(jobId, this::read).single();
    }

    @Override
    @Transactional(readOnly = true)
    public Optional<Duration> usualOver(long jobId) {
        return kept.get(jobId, this::read).sweep();
    }

    @Override
    @Transactional(readOnly = true)
    public int known(long jobId) {
        return kept.get(jobId, this::read).count();
    }

    @EventListener
    void follow(RunEnding ended) {
        kept.changed(ended.run().jobId());
    }

    private Usual read(long jobId) {
        List<RunState> good = List.of(RunState.SUCCEEDED, RunState.WARNED);
        List<Run> single = store.newestSingle(jobId, good, Limit.of(20)).stream()
                .map(RunRecord::value)
                .toList();
        List<Run> sweeps = store.newestSweeps(jobId, good, Limit.of(20)).stream()
                .map(RunRecord::value)
                .toList();
        return new Usual(median(single), median(sweeps), single.size());
    }

    private static Optional<Duration> median(List<Run> runs) {
        List<Duration> sorted =
                runs.stream().flatMap(run -> run.took().stream()).sorted().toList();
        return sorted.isEmpty() ? Optional.empty() : Optional.of(sorted.get(sorted.size() / 2));
    }
}
