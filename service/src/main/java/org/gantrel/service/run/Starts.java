package org.gantrel.service.run;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.time.Clock;
import java.time.Instant;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.function.Supplier;
import org.gantrel.core.access.Deed;
import org.gantrel.core.job.Job;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.problem.Problem;
import org.gantrel.service.change.Changes;
import org.gantrel.service.durable.Durability;
import org.gantrel.service.job.JobEntry;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.team.Caller;
import org.springframework.dao.DataIntegrityViolationException;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;
import org.springframework.transaction.support.TransactionTemplate;

/** Starts by hand, and repeats. */
@Component
public class Starts {

    private static final int LONGEST_KEY = 200;

    private final Jobs jobs;
    private final Ledger ledger;
    private final Runs runs;
    private final RunValues values;
    private final RunAccess access;
    private final Durability durability;
    private final TransactionTemplate transaction;
    private final StartKeyStore keys;
    private final Changes changes;
    private final ByHand byHand;
    private final RosterSight rosters;
    private final Clock clock;

    Starts(
            Jobs jobs,
            Ledger ledger,
            Runs runs,
            RunValues values,
            RunAccess access,
            StartKeyStore keys,
            Changes changes,
            ByHand byHand,
            Durability durability,
            TransactionTemplate transaction,
            RosterSight rosters,
            Clock clock) {
        this.rosters = rosters;
        this.ledger = ledger;
        this.values = values;
        this.access = access;
        this.durability = durability;
        this.transaction = transaction;
        this.byHand = byHand;
        this.jobs = jobs;
        this.runs = runs;
        this.keys = keys;
        this.changes = changes;
        this.clock = clock;
    }

    /**
     * Starts a job with values. Asked again under the same key, answers with the run that the first call made.
     *
     * @throws InvalidException naming every value that is wrong
     */
    public Run start(Caller caller, String name, Map<String, String> given, Optional<String> key) {
        return start(caller, name, given, Optional.empty(), false, key);
    }

    /** The same over the rows of a roster, where one is named. */
    public Run start(
            Caller caller, String name, Map<String, String> given, Optional<SweepRequest> over, Optional<String> key) {
        return start(caller, name, given, over, false, key);
    }

    /** The same, without waiting for its gates where that is chosen. */
    public Run start(
            Caller caller,
            String name,
            Map<String, String> given,
            Optional<SweepRequest> over,
            boolean skipGates,
            Optional<String> key) {
        var wanted = new Wanted(name, given, over, skipGates);
        try {
            return durable(() -> startOnce(caller, wanted, key));
        } catch (DataIntegrityViolationException e) {
            // the same start was asked for at the same moment, and the other was first
            return transaction.execute(
                    status -> key.flatMap(text -> earlier(caller, text, wanted)).orElseThrow(() -> e));
        }
    }

    /** Does it in one transaction, and comes back when that would outlast a power cut. */
    private Run durable(Supplier<Run> starting) {
        Run run = transaction.execute(status -> starting.get());
        durability.sync();
        return run;
    }

    private Run startOnce(Caller caller, Wanted wanted, Optional<String> key) {
        JobEntry job = startable(caller, wanted.name());
        Map<String, String> given = wanted.given();
        Optional<SweepRequest> over = wanted.over();
        Optional<Run> earlier = key.flatMap(text -> earlier(caller, text, wanted));
        if (earlier.isPresent()) {
            return earlier.get();
        }
        List<Problem> unasked = jobs.current(job).parameters().unasked(given);
        if (!unasked.isEmpty() && over.isEmpty()) {
            throw new InvalidException(unasked);
        }
        over.ifPresent(request -> rosters.require(caller, request.roster()));
        Instant now = clock.instant();
        NewRun from = NewRun.byPerson(job, given, caller.name(), byHand.planned(jobs.current(job), now));
        NewRun chosen = wanted.skipGates() ? from.skippingGates() : from;
        Run run = ledger.create(over.map(chosen::over).orElse(chosen), now);
        key.ifPresent(text -> keys.saveAndFlush(new StartKey(caller.name(), text, hash(wanted), run.number(), now)));
        changes.record(
                caller,
                "started",
                "job",
                job.name(),
                job.team(),
                "run " + run.number() + (wanted.skipGates() ? ", its gates skipped" : ""));
        return run;
    }

    /** Runs the same again: the job as it is now, with the run's own values and planned time. */
    public Run repeat(Caller caller, long number) {
        return durable(() -> repeat(caller, access.visible(caller, number, Deed.START_RUNS), Optional.empty()));
    }

    /** Runs those rows of a sweep again that ended badly, with the sweep's own values and planned time. */
    public Run repeatFailed(Caller caller, long number) {
        return durable(() -> {
            Run sweep = access.visible(caller, number, Deed.START_RUNS);
            if (!sweep.isSweep()) {
                throw Refusal.conflict("run " + number + " went over no roster; it has no rows to repeat");
            }
            SweepRequest over = rosters.failedOf(number)
                    .orElseThrow(() -> Refusal.conflict("no row of run " + number + " ended badly"));
            rosters.require(caller, over.roster());
            return repeat(caller, sweep, Optional.of(over));
        });
    }

    private Run repeat(Caller caller, Run run, Optional<SweepRequest> over) {
        if (run.isSweep() && over.isEmpty()) {
            throw Refusal.conflict(
                    "a sweep is not repeated as it is; repeat those of its rows that failed (rows=failed), or start the job"
                            + " over its roster again");
        }
        JobEntry job = startable(caller, run.jobName());
        Job definition = jobs.current(job);
        var given = new LinkedHashMap<>(values.open(run));
        given.keySet().removeIf(name -> definition.parameters().named(name).isEmpty());
        NewRun again = NewRun.again(job, given, run, caller.name());
        Run repeat = ledger.create(over.map(again::over).orElse(again), clock.instant());
        changes.record(caller, "repeated", "run", String.valueOf(run.number()), job.team(), "run " + repeat.number());
        return repeat;
    }

    /**
     * A job that somebody may start now, with all that it would start in turn.
     *
     * @throws Refusal where it is not there, not theirs to start, or retired
     */
    @Transactional(readOnly = true)
    public JobEntry startable(Caller caller, String name) {
        JobEntry job = jobs.visible(caller, name);
        caller.require(Deed.START_RUNS, job.team());
        if (job.isRetired()) {
            throw Refusal.conflict("the job " + name + " is retired and starts no more");
        }
        if (jobs.current(job) instanceof Job.Chain chain) {
            chain.parts(part -> jobs.named(part).map(jobs::current))
                    .forEach(part -> caller.require(Deed.START_RUNS, part.team()));
        }
        return job;
    }

    /** A start that somebody wants. */
    private record Wanted(String name, Map<String, String> given, Optional<SweepRequest> over, boolean skipGates) {}

    private Optional<Run> earlier(Caller caller, String key, Wanted wanted) {
        if (key.isBlank() || key.length() > LONGEST_KEY) {
            throw new InvalidException("Idempotency-Key", "1 to " + LONGEST_KEY + " characters would be right");
        }
        Optional<StartKey> known = keys.findByPersonAndStartKey(caller.name(), key);
        if (known.isPresent() && !known.get().requestHash().equals(hash(wanted))) {
            throw Refusal.conflict(
                    "this Idempotency-Key came with another start before; take a new key for a new start");
        }
        return known.flatMap(start -> runs.find(start.runNumber()));
    }

    private static String hash(Wanted wanted) {
        // what was not there before is left out where it is not used, so that old keys are known again
        String what = wanted.name() + wanted.over() + (wanted.skipGates() ? " skipping gates" : "");
        try {
            byte[] digest = MessageDigest.getInstance("SHA-256")
                    .digest((what + new TreeMap<>(wanted.given())).getBytes(StandardCharsets.UTF_8));
            return HexFormat.of().formatHex(digest);
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException("every Java platform has SHA-256", e);
        }
    }
}
