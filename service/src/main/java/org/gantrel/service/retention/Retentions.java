package org.gantrel.service.retention;

import java.io.IOException;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import org.gantrel.core.event.EventType;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Retention;
import org.gantrel.service.change.Changes;
import org.gantrel.service.execution.RunFolder;
import org.gantrel.service.job.JobEntry;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.journal.Journal;
import org.gantrel.service.run.Thinned;
import org.gantrel.service.settings.Settings;
import org.gantrel.service.team.Team;
import org.gantrel.service.team.Teams;
import org.gantrel.service.time.Threads;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.SmartLifecycle;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Thins out history by age: runs with all that belongs to them, logs, outputs, the journal and the audit record. It works
 * in small batches with a breath between them, in a thread of its own, so that nobody waits for it; children go before
 * parents, and what is still owed stays.
 */
@Component
public class Retentions implements SmartLifecycle {

    private static final Logger LOG = LoggerFactory.getLogger(Retentions.class);
    private static final int BATCH = 100;
    private static final Duration FIRST = Duration.ofMinutes(2);
    private static final Duration EVERY = Duration.ofMinutes(15);
    private static final long BREATH_MILLIS = 20;

    /**
     * What of a job would go now.
     *
     * @param keepRuns how long its runs are kept; null for ever
     */
    public record Going(JobEntry job, Duration keepRuns, Duration keepLogs, long runs, long logs) {}

    private final Thinned thinned;
    private final Jobs jobs;
    private final Teams teams;
    private final Journal journal;
    private final Changes changes;
    private final List<LetsGo> features;
    private final List<LetsGoOfOld> ofOld;
    private final TrustInClock trust;
    private final Settings settings;
    private final TransactionTemplate transaction;
    private final Clock clock;
    private ScheduledExecutorService timer;

    Retentions(
            Thinned thinned,
            Jobs jobs,
            Teams teams,
            Journal journal,
            Changes changes,
            List<LetsGo> features,
            List<LetsGoOfOld> ofOld,
            TrustInClock trust,
            Settings settings,
            TransactionTemplate transaction,
            Clock clock) {
        this.thinned = thinned;
        this.jobs = jobs;
        this.teams = teams;
        this.journal = journal;
        this.changes = changes;
        this.features = features;
        this.ofOld = ofOld;
        this.trust = trust;
        this.settings = settings;
        this.transaction = transaction;
        this.clock = clock;
    }

    @Override
    public void start() {
        timer = Threads.timer("retention");
        timer.scheduleWithFixedDelay(
                () -> {
                    try {
                        if (trust.isTrusted(clock.instant())) {
                            thin();
                        }
                    } catch (Throwable e) {
                        LOG.warn("history could not be thinned; it is tried again", e);
                    }
                },
                FIRST.toSeconds(),
                EVERY.toSeconds(),
                TimeUnit.SECONDS);
    }

    @Override
    public void stop() {
        timer.shutdown();
        timer = null;
    }

    @Override
    public boolean isRunning() {
        return timer != null;
    }

    /** How long what a job leaves is kept: as it says itself, or its team, or the installation. */
    public Retention of(JobEntry job) {
        Retention team = teams.named(job.team()).map(Team::retention).orElse(Retention.UNSAID);
        return jobs.current(job).retention().or(team).or(settings.keep().runs());
    }

    /** What would go now, by job; jobs of which nothing would are left out. */
    List<Going> preview(List<JobEntry> of) {
        Instant now = clock.instant();
        var going = new ArrayList<Going>();
        for (JobEntry job : of) {
            Retention keep = of(job);
            long runs = keep.runs()
                    .map(age -> thinned.countRuns(job.id(), now.minus(age)))
                    .orElse(0L);
            long logs = keep.logs()
                    .map(age -> thinned.countLogs(job.id(), now.minus(age)))
                    .orElse(0L);
            if (runs + logs > 0) {
                going.add(new Going(job, keep.runs().orElse(null), keep.logs().orElse(null), runs, logs));
            }
        }
        return going;
    }

    /** Thins out all that is old enough. Each job by itself: one that fails keeps nothing else from going. */
    public synchronized void thin() {
        Instant now = clock.instant();
        int runs = 0;
        for (JobEntry job : jobs.allEver()) {
            try {
                runs += thin(job, now);
            } catch (RuntimeException | IOException e) {
                LOG.warn("the history of {} could not be thinned; it is tried again", job.name(), e);
            }
        }
        int events = thinEvents(now);
        Instant old = now.minus(settings.keep().events());
        for (LetsGoOfOld each : ofOld) {
            try {
                each.letGoBefore(old);
            } catch (RuntimeException e) {
                LOG.warn("what is old could not be let go; it is tried again", e);
            }
        }
        settings.keep().changes().ifPresent(age -> changes.thin(now.minus(age), BATCH * 10, this::breathe));
        if (runs > 0) {
            journal.write("gantrel.history.thinned", "", Map.of("runs", runs, "events", events));
        }
    }

    /** Events of types with a length of their own go by that one, all others by the usual one. */
    private int thinEvents(Instant now) {
        Map<String, Duration> own = new TreeMap<>();
        settings.keep().ofTypes().forEach((type, length) -> own.put(EventType.PREFIX + type.replace("*", ""), length));
        int gone = journal.thin(
                new Journal.Going("", own.keySet(), now.minus(settings.keep().events())), BATCH * 10, this::breathe);
        for (Map.Entry<String, Duration> each : own.entrySet()) {
            List<String> nearer = own.keySet().stream()
                    .filter(other -> !other.equals(each.getKey()) && other.startsWith(each.getKey()))
                    .toList();
            gone += journal.thin(
                    new Journal.Going(each.getKey(), nearer, now.minus(each.getValue())), BATCH * 10, this::breathe);
        }
        return gone;
    }

    private int thin(JobEntry job, Instant now) throws IOException {
        Retention keep = of(job);
        if (keep.logs().isPresent()) {
            Instant before = now.minus(keep.logs().get());
            List<Long> batch = thinned.logs(job.id(), before, BATCH);
            while (!batch.isEmpty()) {
                for (Long number : batch) {
                    folder(number).deleteLog();
                }
                thinned.logsGone(batch);
                breathe();
                batch = thinned.logs(job.id(), before, BATCH);
            }
        }
        Optional<Duration> outputs =
                jobs.current(job) instanceof Job.Task task ? task.outputs().keep() : Optional.empty();
        if (outputs.isPresent()) {
            Instant before = now.minus(outputs.get());
            List<Long> batch = thinned.outputs(job.id(), before, BATCH);
            while (!batch.isEmpty()) {
                for (Long number : batch) {
                    folder(number).deleteOutputs();
                }
                thinned.outputsGone(batch);
                breathe();
                batch = thinned.outputs(job.id(), before, BATCH);
            }
        }
        return keep.runs().isPresent() ? thinRuns(job, now.minus(keep.runs().get())) : 0;
    }

    private int thinRuns(JobEntry job, Instant before) throws IOException {
        int gone = 0;
        List<Long> batch = thinned.runs(job.id(), before, BATCH);
        while (!batch.isEmpty()) {
            int went = 0;
            for (Long run : batch) {
                went += delete(run);
            }
            gone += went;
            if (went == 0) {
                // all that is left is owed to somebody
                return gone;
            }
            batch = thinned.runs(job.id(), before, BATCH);
        }
        return gone;
    }

    /** Deletes a run and all that it started, the youngest first; says how many went. */
    private int delete(long run) throws IOException {
        int gone = 0;
        List<Long> children = thinned.withChildren(run, BATCH);
        while (!children.isEmpty()) {
            int before = gone;
            for (Long child : children) {
                gone += delete(child);
            }
            if (gone == before) {
                return gone;
            }
            breathe();
            children = thinned.withChildren(run, BATCH);
        }
        List<Long> one = List.of(run);
        if (isOwed(run)) {
            return gone;
        }
        // the files first: should the service die in between, the run is still known and goes the next time
        folder(run).delete();
        transaction.executeWithoutResult(status -> {
            features.forEach(feature -> feature.letGo(one));
            thinned.delete(one);
        });
        return gone + 1;
    }

    /** Whether something is still owed to a run: a mail that is to go out, an end that nobody was told of. */
    boolean isOwed(long run) {
        return features.stream().anyMatch(feature -> !feature.owed(List.of(run)).isEmpty());
    }

    private RunFolder folder(long number) {
        return RunFolder.of(settings.runsFolder(), number);
    }

    private void breathe() {
        try {
            Thread.sleep(BREATH_MILLIS);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new IllegalStateException("interrupted", e);
        }
    }
}
