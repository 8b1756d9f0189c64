package org.gantrel.service.engine;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.atomic.AtomicLong;
import java.util.stream.Stream;
import org.gantrel.core.gate.Gates;
import org.gantrel.core.job.Rules;
import org.gantrel.core.run.Admission.Running;
import org.gantrel.core.run.Admission.WaitingRun;
import org.gantrel.core.run.Beside;
import org.gantrel.core.run.CauseKind;
import org.gantrel.core.run.Ending;
import org.gantrel.core.run.Retry;
import org.gantrel.core.run.RunState;
import org.gantrel.core.run.Wait;
import org.gantrel.core.run.Wait.Kind;
import org.gantrel.service.gate.Gatekeeper;
import org.gantrel.service.hold.Hold;
import org.gantrel.service.hold.Holds;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.run.Arrivals;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.Runs;
import org.gantrel.service.schedule.Accounting;
import org.gantrel.service.sweep.SweepGates;
import org.gantrel.service.traffic.Demands;
import org.springframework.stereotype.Component;

/**
 * Who waits and who is under way, as admission looks at them: the ledger's runs with what their definitions say. What is
 * moved or written down is told; whenever its count is not the ledger's, all is read again. Used by the engine's thread
 * alone.
 */
@Component
class WaitingRoom {

    /**
     * A waiting run.
     *
     * @param gates those of its definition that it waits for
     * @param takesNoPlace as its definition has it, worked out once: all that wait are looked at again and again
     * @param said for what it is said to wait, as it is written down
     * @param told whether that was said since it came in, so that its kind is known as well
     */
    private record Guest(Run run, Rules rules, Gates gates, boolean takesNoPlace, Wait said, boolean told) {}

    /** A run that will not begin any more, by what its definition or a hold says. */
    record Dismissed(long number, Ending ending) {}

    private final Runs runs;
    private final Jobs jobs;
    private final Demands demands;
    private final Holds holds;
    private final Gatekeeper gates;
    private final SweepGates gatesOf;
    private final Arrivals arrivals;
    private final Map<Long, Guest> waiting = new LinkedHashMap<>();
    private final Map<Long, Running> underway = new HashMap<>();
    /** Those of them that are tasks, whether they take a place or not. */
    private final Set<Long> tasks = new HashSet<>();

    private boolean read;
    private boolean news = true;
    private Optional<Instant> next = Optional.empty();
    private List<Hold> heldBefore = List.of();

    WaitingRoom(
            Runs runs,
            Jobs jobs,
            Demands demands,
            Holds holds,
            Gatekeeper gates,
            SweepGates gatesOf,
            Arrivals arrivals) {
        this.runs = runs;
        this.jobs = jobs;
        this.demands = demands;
        this.holds = holds;
        this.gates = gates;
        this.gatesOf = gatesOf;
        this.arrivals = arrivals;
    }

    /** Takes in who came since; reads all anew where it has lost count. */
    void refresh() {
        List<Run> came = arrivals.take();
        if (!read || runs.count(RunState.RUNNING) != underway.size() && came.isEmpty()) {
            waiting.clear();
            underway.clear();
            tasks.clear();
            runs.waiting().forEach(this::moved);
            runs.underwayAll().forEach(this::moved);
            read = true;
        }
        for (Run run : came) {
            // it may have gone on since it was written down
            runs.find(run.number()).ifPresent(this::moved);
        }
    }

    /** Is told of a run as it is now. */
    void moved(Run run) {
        news = true;
        waiting.remove(run.number());
        underway.remove(run.number());
        tasks.remove(run.number());
        if (run.state() == RunState.WAITING) {
            Wait said = new Wait(Kind.PLACE, "", run.waitingFor());
            waiting.put(
                    run.number(),
                    new Guest(run, demands.rules(run), gatesOf.of(run), demands.takesNoPlace(run), said, false));
        } else {
            gates.forget(run.number());
            if (run.state() == RunState.RUNNING) {
                underway.put(run.number(), demands.running(run));
                if (!run.isParent()) {
                    tasks.add(run.number());
                }
            }
        }
    }

    /** Reads all anew at the next look, which is due at once. */
    void distrust() {
        read = false;
        news = true;
    }

    /** Whether anything happened, or a moment came, since the last look. */
    boolean hasNews(Instant now) {
        boolean heldOtherwise = !Objects.equals(holds.on(now), heldBefore);
        return news
                || heldOtherwise
                || gates.hasNews()
                || next.filter(at -> !now.isBefore(at)).isPresent();
    }

    void looked(Instant now) {
        news = false;
        heldBefore = holds.on(now);
    }

    boolean isEmpty() {
        return waiting.isEmpty();
    }

    Collection<Running> underway() {
        return underway.values();
    }

    int tasksUnderway() {
        return tasks.size();
    }

    /** The runs of crowds as they are now, with those that are taken in meanwhile. */
    SweepRuns.Crowds crowds() {
        var together = new Beside();
        underway.values().forEach(run -> together.add(run.demand().crowd(), run.number()));
        var notNumberedYet = new AtomicLong();
        return (crowd, sideBySide) -> {
            Optional<Wait> wait = together.waitOf(crowd, sideBySide);
            if (wait.isEmpty()) {
                together.add(crowd, notNumberedYet.decrementAndGet());
            }
            return wait;
        };
    }

    /** When somebody is to be looked at again though nothing happens. */
    Optional<Instant> next() {
        return next;
    }

    /** All that wait, those but not that are left out; {@code dismissed} takes those that will not begin. */
    List<WaitingRun> waiting(Collection<Long> leftOut, Instant now, List<Dismissed> dismissed) {
        List<Hold> on = holds.on(now);
        next = holds.next(now);
        var all = new ArrayList<WaitingRun>();
        var teams = new HashMap<Long, String>();
        for (Guest guest : waiting.values()) {
            if (leftOut.contains(guest.run().number())) {
                continue;
            }
            Run run = guest.run();
            if (run.cause() == CauseKind.SCHEDULE && run.isAhead(now.plus(Accounting.LEAD))) {
                // written down early, since many are due with it
                soon(Optional.of(run.plannedAt().minus(Accounting.LEAD)));
                continue;
            }
            Optional<Ending> ending = dismissal(guest, on, now);
            if (ending.isPresent()) {
                dismissed.add(new Dismissed(run.number(), ending.get()));
                continue;
            }
            soon(totalEnd(guest));
            Optional<Wait> held = held(guest, on, now);
            boolean passed = run.isParent() && run.waitsToGoOn();
            Gatekeeper.Answer answer = held.isEmpty() && !guest.gates().isEmpty() && !passed
                    ? gates.ask(run, guest.gates(), now)
                    : Gatekeeper.Answer.OPEN;
            if (answer.ending().isPresent()) {
                dismissed.add(new Dismissed(run.number(), answer.ending().get()));
                continue;
            }
            soon(answer.next());
            all.add(new WaitingRun(
                    run.number(),
                    teams.computeIfAbsent(run.jobId(), jobs::teamOf),
                    run.plannedAt(),
                    run.waitsSince(),
                    guest.takesNoPlace(),
                    guest.rules().priority(),
                    demands.of(run),
                    held.or(answer::waits)));
        }
        return all;
    }

    private static Optional<Ending> dismissal(Guest guest, List<Hold> on, Instant now) {
        Run run = guest.run();
        if (run.isParent() && run.waitsToGoOn()) {
            // somebody wants it to go on: it has begun, and what has begun is not skipped
            return Optional.empty();
        }
        Optional<Ending> late = guest.rules()
                .limits()
                .windowEnd(run.planned())
                .filter(end -> !now.isBefore(end.toInstant()))
                .map(end -> new Ending(
                        RunState.SKIPPED,
                        "its window ended at " + end.toLocalTime()
                                + (run.again().isPresent() ? "" : " before it could start")));
        Optional<Ending> overAll = totalEnd(guest)
                .filter(end -> !now.isBefore(end))
                .map(end -> new Ending(RunState.TIMED_OUT, "its limit over all tries was reached"));
        return late.or(() -> overAll).or(() -> hold(guest, on)
                .filter(hold -> skips(hold, run) && isDue(run, now))
                .map(hold -> new Ending(RunState.SKIPPED, "on hold: " + hold.words())));
    }

    /** When a further try would be stopped as soon as it begins. */
    private static Optional<Instant> totalEnd(Guest guest) {
        return guest.run().again().flatMap(again -> guest.rules()
                .limits()
                .total()
                .map(total -> again.tries().began().plus(total)));
    }

    /** What belongs to a sweep that has begun, or has begun itself, is kept, whatever the hold does with what comes due. */
    private static boolean skips(Hold hold, Run run) {
        return hold.skips() && !run.isRow() && !(run.isParent() && run.waitsToGoOn());
    }

    /** A hold that skips what comes due leaves alone what does not come due while it stands. */
    private static boolean isDue(Run run, Instant now) {
        boolean tried = run.again().filter(again -> again.at().isAfter(now)).isPresent();
        return !tried && !(run.cause() == CauseKind.TRIGGER && run.isAhead(now));
    }

    /** The hold that keeps the next rows of a sweep under way from beginning: of its job, or of a lane that they need. */
    Optional<Wait> holdOfRows(long sweep, Instant now) {
        List<Hold> on = Holds.ofParts(holds.on(now));
        return on.isEmpty()
                ? Optional.empty()
                : runs.find(sweep)
                        .flatMap(run -> Holds.holding(
                                on,
                                run.jobName(),
                                run.teamId(),
                                demands.rules(run).lanes().keySet()))
                        .map(Hold::asWait);
    }

    private static Optional<Hold> hold(Guest guest, List<Hold> on) {
        if (on.isEmpty()) {
            return Optional.empty();
        }
        Run run = guest.run();
        // what is under way finishes: its steps and rows are held only where they are meant themselves
        return Holds.holding(
                run.parent().isEmpty() ? on : Holds.ofParts(on),
                run.jobName(),
                run.teamId(),
                guest.rules().lanes().keySet());
    }

    private Optional<Wait> held(Guest guest, List<Hold> on, Instant now) {
        Optional<Wait> hold =
                hold(guest, on).filter(each -> !skips(each, guest.run())).map(Hold::asWait);
        if (hold.isPresent()) {
            return hold;
        }
        Run run = guest.run();
        // a schedule's run is written down just before its time, and then begun ahead to start in time
        if (run.cause() == CauseKind.TRIGGER && run.isAhead(now)) {
            soon(Optional.of(run.plannedAt()));
            return Optional.of(new Wait(Kind.GATE, "", "its planned time"));
        }
        Retry retry = guest.rules().retry();
        return run.again()
                .filter(again -> retry.isToCome(again.tries().number(), again.at(), now))
                .map(again -> {
                    soon(Optional.of(again.at()));
                    return new Wait(
                            Kind.RETRY,
                            String.valueOf(again.tries().number()),
                            "try " + again.tries().number() + " of "
                                    + guest.rules().retry().tries() + ", after: "
                                    + again.last().message());
                });
    }

    private void soon(Optional<Instant> at) {
        next = Stream.concat(next.stream(), at.stream()).min(Comparator.naturalOrder());
    }

    /** Whether a run is said to wait for this already. */
    boolean isSaid(long number, Wait wait) {
        Guest guest = waiting.get(number);
        return guest == null || guest.said().text().equals(wait.text());
    }

    /** Whether a run is known to wait for the same thing, though in other words. */
    boolean isSame(long number, Wait wait) {
        Guest guest = waiting.get(number);
        return guest != null && guest.told() && guest.said().isSameAs(wait);
    }

    void say(long number, Wait wait) {
        waiting.computeIfPresent(
                number,
                (key, guest) -> new Guest(guest.run(), guest.rules(), guest.gates(), guest.takesNoPlace(), wait, true));
    }

    /** Runs under way that a hold concerns which stops them: those that no other run has started. */
    List<Long> toStop(Hold hold) {
        return underway.keySet().stream()
                .flatMap(number -> runs.find(number).stream())
                .filter(run -> hold.concerns(
                        run.jobName(), run.teamId(), demands.of(run).lanes().keySet()))
                .map(Run::number)
                .toList();
    }
}
