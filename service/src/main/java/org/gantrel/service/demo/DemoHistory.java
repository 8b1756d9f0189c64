package org.gantrel.service.demo;

import jakarta.persistence.EntityManager;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import org.gantrel.core.chain.ChainCourse;
import org.gantrel.core.expression.Bindings;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Step;
import org.gantrel.core.run.Ending;
import org.gantrel.core.run.RunEvent;
import org.gantrel.core.run.RunState;
import org.gantrel.core.run.RunStatus.Stop;
import org.gantrel.core.run.Wait;
import org.gantrel.service.chain.ChainFacts;
import org.gantrel.service.chain.ChainSteps;
import org.gantrel.service.chain.StepRecord;
import org.gantrel.service.execution.Actors;
import org.gantrel.service.execution.RunFolder;
import org.gantrel.service.job.JobEntry;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.lane.Lanes;
import org.gantrel.service.run.Finish;
import org.gantrel.service.run.Ledger;
import org.gantrel.service.run.NewRun;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.RunValues;
import org.gantrel.service.run.Runs;
import org.gantrel.service.run.SweepRequest;
import org.gantrel.service.schedule.Accounting;
import org.gantrel.service.schedule.Schedules;
import org.gantrel.service.settings.Settings;
import org.gantrel.service.sweep.Drawing;
import org.gantrel.service.sweep.SweepRow;
import org.gantrel.service.sweep.Sweeps;
import org.gantrel.service.time.Absence;
import org.gantrel.service.traffic.Demands;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Makes a past: lets the schedules come due from some weeks ago until now, through the accounting and the ledger that
 * real runs go through, and ends each run as its job's habit has it. The same seed makes the same past.
 */
@Component
class DemoHistory {

    private static final long SEED = 20_261_123;
    private static final int MOST_ROWS = 50;
    private static final int OCCURRENCES_A_TRANSACTION = 15;

    private final Accounting accounting;
    private final Schedules schedules;
    private final Runs runs;
    private final ChainSteps steps;
    private final Drawing drawing;
    private final Sweeps sweeps;
    private final Jobs jobs;
    private final Lanes lanes;
    private final Demands demands;
    private final Berths berths = new Berths();
    private final Ledger ledger;
    private final RunValues values;
    private final Settings settings;
    private final Actors actors;
    private final EntityManager entities;
    private final TransactionTemplate transaction;

    DemoHistory(
            Accounting accounting,
            Schedules schedules,
            Runs runs,
            ChainSteps steps,
            Drawing drawing,
            Sweeps sweeps,
            Jobs jobs,
            Lanes lanes,
            Demands demands,
            Ledger ledger,
            RunValues values,
            Settings settings,
            Actors actors,
            EntityManager entities,
            TransactionTemplate transaction) {
        this.actors = actors;
        this.accounting = accounting;
        this.schedules = schedules;
        this.runs = runs;
        this.steps = steps;
        this.drawing = drawing;
        this.sweeps = sweeps;
        this.jobs = jobs;
        this.lanes = lanes;
        this.demands = demands;
        this.ledger = ledger;
        this.values = values;
        this.settings = settings;
        this.entities = entities;
        this.transaction = transaction;
    }

    /** Makes the runs from an instant until now. */
    void make(World world, Instant from, Instant now) {
        Instant gone = now.minus(world.absence().ago());
        var absence = new Absence(gone, gone.plus(world.absence().length()));
        schedules.planAllFrom(from);
        Optional<Instant> next = accounting.next();
        while (next.isPresent() && next.get().isBefore(now)) {
            transaction.executeWithoutResult(status -> portion(world, absence, now));
            next = accounting.next();
        }
    }

    private void portion(World world, Absence absence, Instant now) {
        for (int i = 0; i < OCCURRENCES_A_TRANSACTION; i++) {
            Optional<Instant> next = accounting.next();
            if (next.isEmpty() || !next.get().isBefore(now)) {
                return;
            }
            boolean away = next.get().isAfter(absence.from()) && next.get().isBefore(absence.until());
            Instant at = away ? absence.until().plusSeconds(90) : next.get();
            accounting.account(at, absence);
            runs.waiting().forEach(run -> live(run, run.plannedAt(), now, world));
        }
    }

    /** Lets a run begin and end; says when it ended. */
    private Instant live(Run run, Instant at, Instant now, World world) {
        Instant ended = once(run, at, now, world);
        Run then = runs.find(run.number()).orElseThrow();
        while (then.again().filter(again -> again.at().isBefore(now)).isPresent()) {
            ended = once(then, then.again().get().at(), now, world);
            then = runs.find(run.number()).orElseThrow();
        }
        return ended;
    }

    private Instant once(Run run, Instant at, Instant now, World world) {
        var random = new Random(SEED ^ run.jobName().hashCode() * 31L ^ at.getEpochSecond() ^ run.number() * 7919);
        World.Habit skipping = world.habits().get(run.jobName());
        if (skipping != null && random.nextInt(100) < skipping.skips()) {
            var ending = new Ending(RunState.SKIPPED, skipping.skip());
            ledger.move(run.number(), new RunEvent.NotWanted(ending), at.plus(skipping.takes()));
            return at;
        }
        Duration slack = Duration.ofMillis(4 + random.nextInt(30));
        if (runs.jobOf(run) instanceof Job.Chain chain) {
            begin(run, at.plus(slack));
            return liveChain(run, chain, at, now, world);
        }
        World.Habit habit = world.habits()
                .getOrDefault(
                        run.jobName(),
                        new World.Habit(
                                Duration.ofSeconds(20),
                                1,
                                0,
                                "something went wrong",
                                List.of(),
                                Duration.ZERO,
                                0,
                                "",
                                Map.of()));
        double factor = 0.75 + random.nextDouble() * 0.5 + (random.nextInt(20) == 0 ? 1.5 : 0);
        Duration takes = Duration.ofMillis((long) (habit.takes().toMillis() * factor));
        Instant turn = turn(run, at, takes, now);
        begin(run, turn.plus(slack));
        Instant end = turn.plus(takes);
        Instant ended = end.isBefore(now) ? end : now.minusMillis(500);
        int luck = random.nextInt(100);
        boolean fails = luck < habit.fails() || at.isAfter(now.minus(habit.lately()));
        boolean warns = !fails && luck < habit.fails() + habit.warns();
        var lines = new ArrayList<>(habit.log());
        if (fails) {
            lines.add(habit.failure());
        } else {
            lines.add("done");
        }
        writeLog(run, lines);
        int code = fails ? 1 : warns ? 3 : 0;
        ledger.finish(
                run.number(),
                new Finish(ending(code, habit), Optional.of(code), List.of(), given(habit, fails, factor)),
                ended);
        return ended;
    }

    private void begin(Run run, Instant at) {
        ledger.move(run.number(), new RunEvent.Admitted(at, actors.identity(runs.jobOf(run))), at);
    }

    /** When a run has its places in lanes, for which it waits where others have them. */
    private Instant turn(Run run, Instant at, Duration takes, Instant now) {
        Map<String, Integer> needed = demands.of(run).lanes();
        if (needed.isEmpty()) {
            return at;
        }
        Map<String, Integer> widths = new HashMap<>();
        lanes.all().forEach((name, lane) -> widths.put(name, lane.width()));
        Instant turn = berths.take(needed, widths, at, takes);
        if (!turn.isAfter(at) || !turn.isBefore(now.minusSeconds(1))) {
            return at;
        }
        String lane = needed.keySet().iterator().next();
        // waits are written by the statement, and the run may not be yet
        entities.flush();
        ledger.waited(run.number(), new Wait(Wait.Kind.LANE, lane, "a place in lane " + lane), at, turn);
        return turn;
    }

    /** Results that change from night to night as the times do. */
    private static Map<String, String> given(World.Habit habit, boolean fails, double factor) {
        var given = new LinkedHashMap<String, String>();
        if (!fails) {
            habit.gives().forEach((name, usual) -> given.put(name, String.valueOf(Math.round(usual * factor))));
        }
        return given;
    }

    private static Ending ending(int code, World.Habit habit) {
        return switch (code) {
            case 0 -> new Ending(RunState.SUCCEEDED, "exit code 0");
            case 3 ->
                new Ending(RunState.WARNED, "exit code 3, which this job counts as a warning: some rows were left out");
            default -> new Ending(RunState.FAILED, "exit code 1: " + habit.failure());
        };
    }

    private Instant liveChain(Run run, Job.Chain chain, Instant at, Instant now, World world) {
        ChainSteps.Of rows = steps.of(run.number());
        Instant time = at;
        while (true) {
            var known = values.known(run).after(new ChainFacts(chain, rows, runs));
            var course = new ChainCourse(chain.steps(), rows.now(), Stop.NO, false, known::holds);
            for (ChainCourse.Settled settled : course.settled()) {
                rows.row(settled.step().name()).outOfReach(settled.why(), time);
            }
            if (course.ending().isPresent()) {
                ledger.finish(run.number(), Finish.of(course.ending().get()), time);
                return time;
            }
            Instant latest = time;
            for (Step step : course.beginning()) {
                Instant ended = liveStep(step, run, known, rows.row(step.name()), new Night(time, now, world));
                latest = ended.isAfter(latest) ? ended : latest;
            }
            time = latest;
        }
    }

    private record Night(Instant at, Instant now, World world) {}

    /** Lets a step begin and end; says when it ended. What people decide they decide a little later. */
    private Instant liveStep(Step step, Run chain, Bindings known, StepRecord row, Night night) {
        row.begin(1, night.at());
        if (step.runs().isEmpty()) {
            boolean asks = step.work() instanceof Step.Approval;
            Instant end = asks ? night.at().plus(Duration.ofMinutes(11)) : night.at();
            Instant ended = end.isBefore(night.now()) ? end : night.at();
            row.end(RunState.SUCCEEDED, asks ? "approved by ivo.brandt" : step.kind() + " over", ended);
            row.by(asks ? "ivo.brandt" : "");
            return ended;
        }
        NewRun from = NewRun.asStep(jobs.named(step.job()).orElseThrow(), values.of(step, known), chain, step.name());
        Run child = ledger.create(step.over().isEmpty() ? from : from.over(SweepRequest.all(step.over())), night.at());
        row.turn(child.number(), night.at());
        Instant ended =
                step.over().isEmpty() ? live(child, night.at(), night.now(), night.world()) : liveSweep(child, night);
        Run then = runs.find(child.number()).orElseThrow();
        if (then.state().isEnded()) {
            row.end(then.state(), then.message(), ended);
        }
        return ended;
    }

    /** Lets the rows of a sweep begin and end side by side; says when the last one ended. */
    private Instant liveSweep(Run sweep, Night night) {
        ledger.move(sweep.number(), new RunEvent.Admitted(night.at(), ""), night.at());
        drawing.draw(sweep.number());
        JobEntry job = jobs.withId(sweep.jobId());
        Instant latest = night.at();
        boolean failed = false;
        for (SweepRow each : sweeps.next(sweep.number(), MOST_ROWS)) {
            Run row = ledger.create(
                    NewRun.asRow(job, Sweeps.together(values.open(sweep), each), sweep, each.place()), night.at());
            sweeps.started(sweep.number(), each.place(), row.number());
            Instant ended = live(row, night.at(), night.now(), night.world());
            failed |= runs.find(row.number()).orElseThrow().state().isBad();
            latest = ended.isAfter(latest) ? ended : latest;
        }
        var ending = new Ending(
                failed ? RunState.FAILED : RunState.SUCCEEDED,
                failed ? "rows failed: " + sweeps.firstFailed(sweep.number(), 3) : "all rows ended well");
        ledger.finish(sweep.number(), Finish.of(ending), latest);
        return latest;
    }

    private void writeLog(Run run, List<String> lines) {
        RunFolder folder = RunFolder.of(settings.runsFolder(), run.number());
        Path log = folder.log();
        try {
            folder.begin(run.attempt());
            Files.createDirectories(log.getParent());
            Files.write(log, lines);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }
}
