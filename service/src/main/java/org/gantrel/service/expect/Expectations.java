package org.gantrel.service.expect;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import org.gantrel.core.event.EventType;
import org.gantrel.core.job.Expect;
import org.gantrel.core.text.Words;
import org.gantrel.service.credential.Credentials;
import org.gantrel.service.expect.Silences.Silence;
import org.gantrel.service.job.JobEntry;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.job.ScheduleFacts;
import org.gantrel.service.journal.Journal;
import org.gantrel.service.journal.Notices;
import org.gantrel.service.run.Ledger;
import org.gantrel.service.run.Resumed;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.Runs;
import org.gantrel.service.settings.Settings;
import org.gantrel.service.time.PutBackSense;
import org.gantrel.service.time.Threads;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.SmartLifecycle;
import org.springframework.stereotype.Component;

/**
 * Goes round every few seconds and says what was expected and has not come: a good end, a start, a coming time. Also what
 * will soon be missing: a credential that ends, room on the disk.
 */
@Component
public class Expectations implements SmartLifecycle {

    private static final Logger LOG = LoggerFactory.getLogger(Expectations.class);
    private static final long ROUND_SECONDS = 5;
    private static final int ROUNDS_BETWEEN_LOOKS = 12;
    private static final int ROUNDS_BETWEEN_THINNING = 720;
    private static final long LOW_BYTES = 2_000_000_000L;
    private static final double LOW_SHARE = 0.05;

    private final Jobs jobs;
    private final Runs runs;
    private final Ledger ledger;
    private final ScheduleFacts schedules;
    private final Silences silences;
    private final Credentials credentials;
    private final Journal journal;
    private final Notices notices;
    private final Settings settings;
    private final Resumed resumed;
    private final Clock clock;
    private ScheduledExecutorService rounds;
    /** When a job that is fine is to be looked at again; it is looked at before where its definition changes. */
    private final Map<String, Instant> fineUntil = new HashMap<>();

    private final Set<Long> toldWaiting = new HashSet<>();
    private final Map<String, LocalDate> toldExpiring = new HashMap<>();
    private boolean startsExpected;
    private final PutBackSense sense = new PutBackSense(Instant.EPOCH);
    private boolean lowDisk;
    private int round;

    Expectations(
            Jobs jobs,
            Runs runs,
            Ledger ledger,
            ScheduleFacts schedules,
            Silences silences,
            Credentials credentials,
            Journal journal,
            Notices notices,
            Settings settings,
            Resumed resumed,
            Clock clock) {
        this.resumed = resumed;
        this.jobs = jobs;
        this.runs = runs;
        this.ledger = ledger;
        this.schedules = schedules;
        this.silences = silences;
        this.credentials = credentials;
        this.journal = journal;
        this.notices = notices;
        this.settings = settings;
        this.clock = clock;
    }

    @Override
    public void start() {
        rounds = Threads.timer("expectations");
        rounds.scheduleWithFixedDelay(resumed.onceDone(this::round), ROUND_SECONDS, ROUND_SECONDS, TimeUnit.SECONDS);
    }

    @Override
    public void stop() {
        rounds.shutdownNow();
        rounds = null;
    }

    @Override
    public boolean isRunning() {
        return rounds != null;
    }

    /** After all that may still make a past, and what hears of events. */
    @Override
    public int getPhase() {
        return Integer.MAX_VALUE;
    }

    /** Goes round once. */
    public synchronized void round() {
        Instant now = clock.instant();
        if (sense.look(now).isPresent()) {
            fineUntil.clear();
        }
        safely(() -> {
            Map<String, Map<String, Silence>> silent = new HashMap<>();
            for (Silence each : silences.now()) {
                silent.computeIfAbsent(each.job(), key -> new HashMap<>()).put(each.what(), each);
            }
            startsExpected = false;
            for (JobEntry entry : jobs.allEver()) {
                Map<String, Silence> of = silent.getOrDefault(entry.name(), Map.of());
                Expect expect = entry.isRetired()
                        ? Expect.NOTHING
                        : jobs.current(entry).rules().expect();
                startsExpected |= expect.startsWithin().isPresent();
                if (!expect.isNothing() || !of.isEmpty()) {
                    safely(() -> look(entry, expect, of, now));
                }
            }
        });
        safely(() -> waiting(now));
        if (round % ROUNDS_BETWEEN_LOOKS == 0) {
            safely(() -> expiring(now));
            safely(this::disk);
        }
        if (round % ROUNDS_BETWEEN_THINNING == 0) {
            safely(silences::thin);
        }
        round++;
    }

    private static void safely(Runnable look) {
        try {
            look.run();
        } catch (Throwable e) {
            LOG.warn("a look was broken off", e);
        }
    }

    private void look(JobEntry job, Expect expect, Map<String, Silence> silent, Instant now) {
        good(job, expect, Optional.ofNullable(silent.get(Expect.GOOD_WITHIN)), now);
        coming(job, expect, Optional.ofNullable(silent.get(Expect.COMING_START)), now);
        if (expect.arrivals().isEmpty()) {
            Optional.ofNullable(silent.get(Expect.ARRIVALS)).ifPresent(each -> silences.drop(each.id()));
        }
    }

    private void good(JobEntry job, Expect expect, Optional<Silence> silent, Instant now) {
        if (expect.goodWithin().isEmpty()) {
            silent.ifPresent(each -> silences.drop(each.id()));
            return;
        }
        String key = job.name() + " " + job.revision();
        if (silent.isEmpty() && fineUntil.getOrDefault(key, Instant.EPOCH).isAfter(now)) {
            return;
        }
        Optional<Run> last = runs.lastGood(job.id());
        Instant base = last.flatMap(Run::finishedAt).orElseGet(() -> jobs.madeAt(job));
        Instant due = expect.silentAt(base).orElseThrow();
        if (due.isAfter(now)) {
            fineUntil.put(key, due);
            silent.ifPresent(each -> silences.end(job, Expect.GOOD_WITHIN, job.name() + " is good again"));
        } else if (silent.isEmpty()) {
            Duration since = Duration.between(base, now);
            String ever = last.isPresent() ? "has not been good for " : "has never been good, for ";
            silences.begin(
                    job,
                    Expect.GOOD_WITHIN,
                    base,
                    job.name() + " " + ever + Words.duration(since) + "; a good end is expected at least every "
                            + Words.duration(expect.goodWithin().get()));
        }
    }

    private void coming(JobEntry job, Expect expect, Optional<Silence> silent, Instant now) {
        if (!expect.comingStart()) {
            silent.ifPresent(each -> silences.drop(each.id()));
            return;
        }
        String key = job.name() + " coming " + job.revision();
        if (silent.isEmpty() && fineUntil.getOrDefault(key, Instant.EPOCH).isAfter(now)) {
            return;
        }
        Optional<Instant> next =
                schedules.of(job).stream().flatMap(each -> each.next().stream()).min(Instant::compareTo);
        if (next.isPresent()) {
            // whoever switches it off is not noticed at once, but soon
            Instant soon = now.plusSeconds(60);
            fineUntil.put(key, next.get().isBefore(soon) ? next.get() : soon);
            silent.ifPresent(each -> silences.end(job, Expect.COMING_START, job.name() + " has a coming start again"));
        } else if (silent.isEmpty()) {
            silences.begin(
                    job,
                    Expect.COMING_START,
                    now,
                    job.name() + " has no coming start any more: its schedules are off or over");
        }
    }

    private void waiting(Instant now) {
        if (!startsExpected) {
            // thousands may wait, and nobody asks for how long
            return;
        }
        List<Run> waiting = runs.waiting();
        Set<Long> numbers = new HashSet<>();
        for (Run run : waiting) {
            numbers.add(run.number());
            Optional<Duration> within = runs.jobOf(run).rules().expect().startsWithin();
            if (within.isEmpty() || run.isRow() || toldWaiting.contains(run.number())) {
                continue;
            }
            Instant since = run.plannedAt().isAfter(run.queuedAt()) ? run.plannedAt() : run.queuedAt();
            if (now.isAfter(since.plus(within.get()))) {
                toldWaiting.add(run.number());
                boolean told = journal.of(run.number(), 500).stream()
                        .anyMatch(event -> event.type().equals(EventType.RUN_WAITS.type()));
                if (!told) {
                    String on = run.waitingFor().isEmpty() ? "" : " for " + run.waitingFor();
                    ledger.waitsLong(
                            run.number(),
                            "it has waited" + on + " for " + Words.duration(Duration.between(since, now))
                                    + "; a start within " + Words.duration(within.get()) + " is expected",
                            now);
                }
            }
        }
        toldWaiting.retainAll(numbers);
    }

    /** Once for each credential and date, in a run of the service. */
    private void expiring(Instant now) {
        var ending = new ArrayList<String>();
        for (Credentials.Expiring each : credentials.expiring()) {
            ending.add(each.name());
            if (!each.on().equals(toldExpiring.put(each.name(), each.on()))
                    && !journal.holdsSince(
                            EventType.CREDENTIAL_EXPIRING.type(),
                            "\"name\":\"" + each.name() + "\"",
                            now.minus(Duration.ofDays(
                                    each.on().isBefore(LocalDate.ofInstant(now, ZoneOffset.UTC)) ? 1 : 7)))) {
                journal.write(
                        EventType.CREDENTIAL_EXPIRING.type(),
                        each.team(),
                        Map.of("name", each.name(), "what", "expires", "message", each.message()));
            }
        }
        toldExpiring.keySet().retainAll(ending);
    }

    private void disk() {
        long free = settings.data().toFile().getUsableSpace();
        long all = settings.data().toFile().getTotalSpace();
        boolean low = all > 0 && free < LOW_BYTES && free < all * LOW_SHARE;
        if (low && !lowDisk) {
            notices.tell(
                    EventType.DISK_LOW,
                    "",
                    Map.of("message", "only " + Words.bytes(free) + " are free where the service keeps its data"));
        }
        lowDisk = low;
    }
}
