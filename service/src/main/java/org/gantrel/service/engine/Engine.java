package org.gantrel.service.engine;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.RejectedExecutionException;
import java.util.function.Function;
import java.util.function.Supplier;
import org.gantrel.core.run.Admission;
import org.gantrel.core.run.Admission.Rows;
import org.gantrel.core.run.Admission.Verdict;
import org.gantrel.core.run.Ending;
import org.gantrel.core.run.RunEvent;
import org.gantrel.core.run.RunState;
import org.gantrel.service.aside.SetAside;
import org.gantrel.service.aside.SetAside.Kind;
import org.gantrel.service.aside.SetAside.Thing;
import org.gantrel.service.durable.Durability;
import org.gantrel.service.execution.Actors;
import org.gantrel.service.execution.Report;
import org.gantrel.service.execution.Supervisor;
import org.gantrel.service.hold.Hold;
import org.gantrel.service.hold.Holds;
import org.gantrel.service.run.Lease;
import org.gantrel.service.run.Ledger;
import org.gantrel.service.run.Moved;
import org.gantrel.service.run.Resumed;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.Runs;
import org.gantrel.service.run.Wishes;
import org.gantrel.service.schedule.Accounting;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * What makes things happen: it does what people wish, accounts for due occurrences, writes down ends, leads chains and
 * sweeps, and admits waiting runs. One thread alone works in it. Each step reads the ledger, asks {@code core}, writes
 * what that says, forces it to the disk, and only then acts; nothing in it waits for anything but the database.
 *
 * <p>Each schedule, run and end is dealt with on its own where it cannot be dealt with together with others, and set aside
 * where it cannot be dealt with at all.
 */
@Component
public class Engine {

    private static final Logger LOG = LoggerFactory.getLogger(Engine.class);
    private static final int MOST_ROUNDS = 1_000;
    private static final Duration LEISURE = Duration.ofSeconds(3);

    private final TurnedClock turned;
    private final Accounting accounting;
    private final Ledger ledger;
    private final Lease lease;
    private final Runs runs;
    private final Wishes wishes;
    private final Supervisor supervisor;
    private final Actors actors;
    private final ChainRuns chains;
    private final ChainRepairs repairs;
    private final SweepRuns sweeps;
    private final Resumed resumed;
    private final Leading leading;
    private final Parents parents;
    private final TimeKeeper times;
    private final Ends ends;
    private final Things things;
    private final WaitingRoom room;
    private final Doorkeeper doorkeeper;
    private final Holds holds;
    private final SetAside aside;
    private final Durability durability;
    private final TransactionTemplate transaction;

    /** Chains and sweeps to look at: something happened to them, or to what they have started. */
    private final Set<Long> stirred = new LinkedHashSet<>();
    /** Those that could not be dealt with, for a later step. */
    private final Set<Long> stirredLater = new HashSet<>();

    private final RowsWanted wanted = new RowsWanted();
    /** What is written down and not acted on yet. */
    private final List<Moved> written = new ArrayList<>();

    private boolean unsynced;
    private boolean hearing;

    Engine(
            TurnedClock turned,
            Accounting accounting,
            Ledger ledger,
            Lease lease,
            Runs runs,
            Wishes wishes,
            Supervisor supervisor,
            Actors actors,
            ChainRuns chains,
            ChainRepairs repairs,
            SweepRuns sweeps,
            Resumed resumed,
            Leading leading,
            Parents parents,
            TimeKeeper times,
            Ends ends,
            Things things,
            WaitingRoom room,
            Doorkeeper doorkeeper,
            Holds holds,
            SetAside aside,
            Durability durability,
            TransactionTemplate transaction) {
        this.turned = turned;
        this.accounting = accounting;
        this.ledger = ledger;
        this.lease = lease;
        this.runs = runs;
        this.wishes = wishes;
        this.supervisor = supervisor;
        this.actors = actors;
        this.chains = chains;
        this.repairs = repairs;
        this.sweeps = sweeps;
        this.resumed = resumed;
        this.leading = leading;
        this.parents = parents;
        this.times = times;
        this.ends = ends;
        this.things = things;
        this.room = room;
        this.doorkeeper = doorkeeper;
        this.holds = holds;
        this.aside = aside;
        this.durability = durability;
        this.transaction = transaction;
    }

    /** Picks up what was under way when the service stopped. */
    void resume(Instant now) {
        durability.writesLater();
        lease.take();
        for (String kind : List.of("chain", "sweep", "task")) {
            for (Run run : runs.underway(kind)) {
                aside.attempt(
                        things.of(Kind.WAITING_RUN, run),
                        () -> moved(transaction.execute(status -> {
                            var all = new ArrayList<Moved>();
                            ledger.move(run.number(), new RunEvent.FoundAgain(), now)
                                    .ifPresent(found -> {
                                        all.add(found);
                                        all.addAll(parents.cancelChildren(found, now));
                                    });
                            return all;
                        })));
            }
        }
        act();
    }

    /** Prepares for the first start, unless something is due too soon for that; says whether it is done. */
    boolean warmUp(Instant now) {
        boolean leisure = supervisor.size() == 0
                && accounting
                        .next()
                        .map(next -> next.isAfter(now.plus(LEISURE)))
                        .orElse(true);
        if (!leisure || !accounting.warmUp(now)) {
            return false;
        }
        supervisor.warmUp();
        // that took its time, and nobody kept the engine from working
        times.sleeps(EngineThread.LONGEST_SLEEP);
        return true;
    }

    /** Does all that is due and says how long there is nothing to do by itself, unless there is news before. */
    Duration step(Instant now) {
        if (turned.step(now)) {
            room.distrust();
        }
        times.wakes();
        doWishes(now);
        // ends first: what waits for one of them is seen to in the same step
        Ends.Recorded recorded = ends.record(now);
        moved(recorded.moved());
        recorded.led().forEach(led -> stirred.remove(led.number()));
        recorded.led().forEach(this::led);
        unsynced |= accounting.account(now, turned.absence());
        stirred.addAll(chains.due(now));
        room.refresh();
        lookAtTimes(now);
        // whether what was under way still is decides over others too
        hearing = times.hearing().isPresent();
        if (!hearing) {
            layHolds(now);
        }
        int round = 0;
        boolean moves;
        do {
            takeDrawings(now);
            lead(now);
            moves = !hearing
                    && doorkeeper.decide(wanted, now).filter(this::admit).isPresent();
        } while ((moves || !stirred.isEmpty()) && ++round < MOST_ROUNDS);
        act();
        if (!hearing) {
            resumed.done();
        }
        return times.sleeps(untilNext(now));
    }

    /** Whether the last step left all decisions to a later one. */
    boolean onlyHears() {
        return hearing;
    }

    /** How many tasks are followed. */
    public int running() {
        return supervisor.size();
    }

    private Duration untilNext(Instant now) {
        Duration soonest = aside.next().map(shorter(Duration.ofDays(1))).orElse(Duration.ofDays(1));
        for (Optional<Instant> at : List.of(accounting.next(now), room.next(), holds.next(now), chains.next())) {
            if (at.isPresent()) {
                soonest = shorter(soonest, Duration.between(now, at.get()));
            }
        }
        return times.next(now).map(shorter(soonest)).orElse(soonest);
    }

    private static Function<Duration, Duration> shorter(Duration than) {
        return other -> shorter(than, other);
    }

    private static Duration shorter(Duration one, Duration other) {
        return one.compareTo(other) <= 0 ? one : other;
    }

    private void doWishes(Instant now) {
        for (Wishes.Open wish : wishes.open()) {
            aside.attempt(new Thing(Kind.WISH, -wish.id(), "for run " + wish.run(), ""), () -> {
                moved(transaction.execute(status -> {
                    List<Moved> all =
                            switch (wish.kind()) {
                                case STOP -> parents.cancel(wish.run(), wish.person(), now);
                                case TRY_NOW -> move(wish.run(), new RunEvent.TryNow(wish.person()), now);
                                case GIVE_UP -> move(wish.run(), new RunEvent.GiveUp(wish.person()), now);
                                case DECIDE, SKIP, GO_ON, HOLD, LET_GO -> repairs.fulfil(wish, now);
                            };
                    wishes.done(wish);
                    return all;
                }));
                stirred.add(wish.run());
            });
        }
    }

    private List<Moved> move(long number, RunEvent event, Instant now) {
        return ledger.move(number, event, now).map(List::of).orElse(List.of());
    }

    /** Stops what is under way where a hold says so that has just begun. */
    private void layHolds(Instant now) {
        for (Hold hold : holds.on(now)) {
            if (hold.stops() && !hold.stopped()) {
                aside.attempt(
                        new Thing(Kind.WISH, -1_000_000_000L - hold.id(), "the hold of " + hold.subject(), ""), () -> {
                            List<Long> concerned = room.toStop(hold);
                            moved(transaction.execute(status -> {
                                var all = new ArrayList<Moved>();
                                concerned.forEach(number -> all.addAll(parents.cancel(
                                        number, hold.person() + ", by a hold of " + hold.subject(), now)));
                                holds.stopped(hold.id());
                                return all;
                            }));
                        });
            }
        }
    }

    /** Limits, patience and windows that are over. */
    private void lookAtTimes(Instant now) {
        for (TimeKeeper.Due due : times.due(now)) {
            boolean dealtWith = stop(
                    due.number(),
                    due.what().words(),
                    () -> due.what() == TimeKeeper.What.WINDOW
                            ? parents.endWindow(due.number(), now)
                            : parents.reachLimit(due.number(), now));
            if (!dealtWith) {
                times.again(due, now);
            }
        }
    }

    /** Stops a run whose time is over, with all that it has started; says whether that could be written down. */
    private boolean stop(long number, String what, Supplier<List<Moved>> moves) {
        return aside.attempt(
                Kind.WISH,
                number,
                () -> things.of(Kind.WISH, number, what),
                () -> moved(transaction.execute(status -> moves.get())));
    }

    private void takeDrawings(Instant now) {
        for (SweepRuns.Drawn each = sweeps.nextDrawn(); each != null; each = sweeps.nextDrawn()) {
            SweepRuns.Drawn drawn = each;
            if (drawn.trouble().isEmpty()) {
                stirred.add(drawn.sweep());
                continue;
            }
            boolean ended = aside.attempt(
                    Kind.SWEEP,
                    drawn.sweep(),
                    () -> things.of(Kind.SWEEP, drawn.sweep(), ""),
                    () -> moved(transaction.execute(
                            status -> sweeps.giveUp(drawn, now).map(List::of).orElse(List.of()))));
            if (!ended) {
                sweeps.again(drawn);
                return;
            }
        }
    }

    /** Lets chains and sweeps go on to which something happened. */
    private void lead(Instant now) {
        List<Long> looked = List.copyOf(stirred);
        stirred.clear();
        for (Long number : looked) {
            if (aside.isHeld(Kind.CHAIN, number)) {
                stirredLater.add(number);
                continue;
            }
            boolean led = aside.attempt(Kind.CHAIN, number, () -> things.of(Kind.CHAIN, number, ""), () -> transaction
                    .execute(status -> leading.lead(number, now))
                    .ifPresent(this::led));
            if (!led) {
                wanted.wantsNothing(number);
                stirredLater.add(number);
            }
        }
    }

    /** Does with one that went on what can be done when that is committed. */
    private void led(Leading.Led led) {
        unsynced |= led.wrote();
        moved(led.end().stream().toList());
        stirred.addAll(led.stirs());
        led.wants()
                .ifPresentOrElse(
                        rows -> {
                            wanted.wants(rows);
                            doorkeeper.somethingWanted();
                        },
                        () -> wanted.wantsNothing(led.number()));
        if (led.draws()) {
            sweeps.draw(led.number());
        }
    }

    /** Begins what may begin; says whether anything did. */
    private boolean admit(Doorkeeper.Decided decided) {
        Instant now = decided.at();
        Verdict verdict = decided.verdict();
        decided.dismissed().forEach(each -> notWanted(each.number(), each.ending(), now));
        verdict.skipped()
                .forEach(each -> notWanted(
                        each.number(),
                        new Ending(
                                RunState.SKIPPED,
                                "it would have had to wait for " + each.by().text()),
                        now));
        verdict.replaced().forEach(each -> replace(each, now));
        begin(verdict.begin(), now);
        // one that another run has taken the place of meanwhile begins none
        verdict.rows().stream()
                .filter(rows -> wanted.isWanted(rows.sweep()))
                .forEach(rows -> aside.attempt(
                        Kind.SWEEP,
                        rows.sweep(),
                        () -> things.of(Kind.SWEEP, rows.sweep(), ""),
                        () -> beginRows(rows, now)));
        return verdict.moves() || !decided.dismissed().isEmpty();
    }

    /** Ends a run that has not begun and will not. */
    private void notWanted(long number, Ending ending, Instant now) {
        aside.attempt(
                Kind.WAITING_RUN,
                number,
                () -> things.of(Kind.WAITING_RUN, number, ""),
                () -> moved(transaction.execute(status -> move(number, new RunEvent.NotWanted(ending), now))));
    }

    /** Stops a run whose place another takes; asked once, as every stop is. */
    private void replace(Admission.Replaced each, Instant now) {
        aside.attempt(
                Kind.WAITING_RUN,
                each.number(),
                () -> things.of(Kind.WAITING_RUN, each.number(), ""),
                () -> moved(transaction.execute(
                        status -> parents.cancel(each.number(), "run " + each.by() + ", which takes its place", now))));
    }

    /** All in one transaction; one by one where that cannot be, so that one that cannot begin stops no other. */
    private void begin(List<Long> numbers, Instant now) {
        if (numbers.isEmpty()) {
            return;
        }
        try {
            moved(transaction.execute(status -> {
                ledger.read(numbers);
                var all = new ArrayList<Moved>();
                numbers.forEach(number -> begin(number, now).ifPresent(all::add));
                return all;
            }));
        } catch (Throwable e) {
            LOG.warn("{} runs are begun one by one", numbers.size(), e);
            for (Long number : numbers) {
                aside.attempt(
                        Kind.WAITING_RUN,
                        number,
                        () -> things.of(Kind.WAITING_RUN, number, ""),
                        () -> moved(transaction.execute(
                                status -> begin(number, now).map(List::of).orElse(List.of()))));
            }
        }
    }

    private Optional<Moved> begin(long number, Instant now) {
        Run run = runs.find(number).orElseThrow();
        String identity = actors.identity(runs.jobOf(run));
        return ledger.move(number, new RunEvent.Admitted(run.begins(now), identity), now);
    }

    private void beginRows(Rows rows, Instant now) {
        SweepRuns.Begun begun =
                transaction.execute(status -> sweeps.begin(rows.sweep(), rows.rows(), room.crowds(), now));
        wanted.begun(rows.sweep(), begun);
        moved(begun.rows());
        if (!begun.isNothing()) {
            stirred.add(rows.sweep());
        }
        if (begun.rows().size() < rows.rows()) {
            // the places that it did not take are others'
            doorkeeper.somethingWanted();
        }
        unsynced |= begun.others();
    }

    /** Notes moves that are committed: what follows from them is done when they are on the disk. */
    private void moved(List<Moved> moves) {
        for (Moved moved : moves) {
            written.add(moved);
            unsynced = true;
            Run run = moved.run();
            room.moved(run);
            if (run.isParent()) {
                stirred.add(run.number());
                wanted.wantsNothing(run.number());
            }
            if (moved.ended()) {
                times.ended(run.number());
                aside.ended(run.number());
                stirred.addAll(wanted.apart());
                run.parent().ifPresent(stirred::add);
            }
        }
    }

    /** Forces what is written to the disk and acts on it. Where that fails it is tried with the next step again. */
    private void act() {
        stirred.addAll(stirredLater);
        stirredLater.clear();
        if (!unsynced && written.isEmpty()) {
            durability.writeNow();
            return;
        }
        durability.sync();
        unsynced = false;
        List<Moved> moves = List.copyOf(written);
        written.clear();
        for (Moved moved : moves) {
            try {
                times.act(moved);
            } catch (RejectedExecutionException e) {
                // the service stops; the next one takes it up
                LOG.debug("run {} is left to the next start", moved.run().number());
            } catch (Throwable e) {
                LOG.warn("run {} cannot be acted on", moved.run().number(), e);
                ends.later(new Report.Refused(moved.run().number(), String.valueOf(e.getMessage()), true));
            }
        }
    }
}
