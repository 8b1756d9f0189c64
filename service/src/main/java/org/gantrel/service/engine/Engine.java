package org.gantrel.service.engine;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Queue;
import java.util.concurrent.ConcurrentLinkedQueue;
import org.gantrel.core.run.Admission;
import org.gantrel.core.run.Admission.Verdict;
import org.gantrel.core.run.Admission.WaitingRun;
import org.gantrel.service.execution.Execution;
import org.gantrel.service.run.RunRecord;
import org.gantrel.service.run.RunStop;
import org.gantrel.service.run.Runs;
import org.gantrel.service.schedule.Accounting;
import org.gantrel.service.settings.Settings;
import org.springframework.stereotype.Component;

/**
 * What makes things happen: it accounts for due occurrences, admits waiting runs, follows commands to their end and
 * leads chains from step to step. One thread alone works in it, so it needs no locks; everything that matters is in the
 * database before it is done.
 */
@Component
public class Engine implements RunStop {

    private static final int WAITING_LOOKED_AT = 1_000;
    private static final int MOST_ROUNDS = 1_000;
    private static final Duration LEISURE = Duration.ofSeconds(3);

    private final Accounting accounting;
    private final Runs runs;
    private final Execution execution;
    private final ChainRuns chains;
    private final SweepRuns sweeps;
    private final Admission admission;
    private final Queue<Long> stops = new ConcurrentLinkedQueue<>();

    Engine(
            Accounting accounting,
            Runs runs,
            Execution execution,
            ChainRuns chains,
            SweepRuns sweeps,
            Settings settings) {
        this.accounting = accounting;
        this.runs = runs;
        this.execution = execution;
        this.chains = chains;
        this.sweeps = sweeps;
        this.admission = new Admission(settings.limits().runsAtOnce());
    }

    /** Picks up what was under way when the service stopped. */
    public void resume() {
        execution.findAgain();
        chains.findAgain();
        sweeps.findAgain();
    }

    /** Prepares for the first start, unless something is due too soon for that; says whether it is done. */
    boolean warmUp(Instant now) {
        boolean leisure = execution.size() == 0
                && accounting
                        .next()
                        .map(next -> next.isAfter(now.plus(LEISURE)))
                        .orElse(true);
        if (!leisure || !accounting.warmUp(now)) {
            return false;
        }
        execution.warmUp();
        return true;
    }

    /** Notes that a running run is to be stopped; that happens in the next step. */
    @Override
    public void stop(long number) {
        stops.add(number);
    }

    /** Does all that is due and says when to look again, unless there is news before. */
    public Instant step(Instant now) {
        accounting.account(now);
        for (Long number = stops.poll(); number != null; number = stops.poll()) {
            execution.stop(number, now);
            chains.stop(number, now).forEach(stops::add);
            sweeps.stop(number, now).forEach(stops::add);
        }
        execution.attend(now);
        int round = 0;
        boolean more = true;
        while (more && round++ < MOST_ROUNDS) {
            chains.lead(now);
            more = admit(now);
            // rows take the places that nobody waits for
            more |= sweeps.lead(now, admission.free(execution.size()));
        }
        Instant next = accounting.next().orElse(Instant.MAX);
        return execution.next().isBefore(next) ? execution.next() : next;
    }

    /** How many commands are under way. */
    public int running() {
        return execution.size();
    }

    /** Starts what may start; says whether anything did. */
    private boolean admit(Instant now) {
        var waiting = runs.waiting(WAITING_LOOKED_AT);
        waiting.stream().filter(RunRecord::isChain).forEach(chain -> chains.start(chain.number(), now));
        waiting.stream().filter(RunRecord::isSweep).forEach(sweep -> sweeps.start(sweep.number(), now));
        var tasks = waiting.stream()
                .filter(run -> !run.isChain() && !run.isSweep())
                .map(run -> new WaitingRun(run.number(), run.plannedAt()))
                .toList();
        boolean started = tasks.size() < waiting.size();
        List<Verdict> verdicts = admission.decide(tasks, execution.size());
        List<Long> starting =
                verdicts.stream().filter(Verdict::starts).map(Verdict::number).toList();
        if (!starting.isEmpty()) {
            execution.start(starting, now);
        }
        verdicts.stream()
                .filter(verdict -> !verdict.starts())
                .forEach(verdict -> runs.waitFor(verdict.number(), verdict.waitingFor()));
        return started || !starting.isEmpty();
    }
}
