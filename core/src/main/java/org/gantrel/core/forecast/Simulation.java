package org.gantrel.core.forecast;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Collections;
import java.util.Comparator;
import java.util.Deque;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.PriorityQueue;
import java.util.Set;
import org.gantrel.core.forecast.Coming.Part;
import org.gantrel.core.forecast.Coming.Standing;
import org.gantrel.core.run.Admission;
import org.gantrel.core.run.Admission.Demand;
import org.gantrel.core.run.Admission.Held;
import org.gantrel.core.run.Admission.LaneNow;
import org.gantrel.core.run.Admission.Running;
import org.gantrel.core.run.Admission.Snapshot;
import org.gantrel.core.run.Admission.Verdict;
import org.gantrel.core.run.Admission.WaitingRun;
import org.gantrel.core.run.Beside;
import org.gantrel.core.run.Overlap;
import org.gantrel.core.run.Wait;

/**
 * Plays what is to come with the admission that decides when it comes, each run as long as it usually takes. Pure; every
 * run is taken to end well.
 */
public final class Simulation {

    /** Of runs that are alike so many are looked at: no more of them begin at one moment. */
    private static final int LOOKED_AT = 6;

    /**
     * What becomes of a run.
     *
     * @param begins nothing where it does not within the time that is looked at
     * @param waitedFor what it waited for last before it began
     * @param skipped whether it does not start at all: another of its job, a hold or the end of its window keeps it from that
     * @param within the longest wait of any of its parts
     * @param stuck what keeps it, or a part of it, from beginning within the time that is looked at
     * @param longest the part of it that is under way the longest from now on
     */
    public record Outcome(
            Coming run,
            Optional<Instant> begins,
            Optional<Instant> ends,
            Optional<Wait> waitedFor,
            boolean skipped,
            Optional<Waited> within,
            Optional<Stuck> stuck,
            Optional<Stretch> longest) {
        /** How long it waits beyond its time. */
        public Duration waits() {
            return begins.map(begin -> Duration.between(run.at(), begin)).orElse(Duration.ZERO);
        }
    }

    /** Places in a lane that a run, or a part of one, takes. */
    public record Taken(String lane, int places, Instant from, Instant until, String job) {}

    /** A wait of a run, or of a part of one, until it began. */
    public record Waited(String job, String team, Instant from, Instant until, Wait what) {
        public Duration length() {
            return Duration.between(from, until);
        }
    }

    /** How long a part of a run is under way from now on. */
    public record Stretch(String job, Instant from, Instant until) {
        public Duration length() {
            return Duration.between(from, until);
        }
    }

    /**
     * What has not begun when the time that is looked at is over.
     *
     * @param part whether it is a part of what it is told of
     * @param what it waits for; nothing where it is its gates
     */
    public record Stuck(String job, boolean part, Optional<Wait> what) {}

    /**
     * What was played.
     *
     * @param outcomes of what is under way and of what comes, in that order
     * @param waited all waits, those of parts too
     */
    public record Played(List<Outcome> outcomes, List<Taken> taken, List<Waited> waited) {}

    /** What comes begins just before its time where it may, and so before what ends at that moment makes room for others. */
    private record Event(Instant at, boolean ends, Going of) {
        static final Comparator<Event> IN_ORDER =
                Comparator.comparing(Event::at).thenComparing(Event::ends).thenComparing(event -> event.of().number);
    }

    private final Map<String, LaneNow> lanes;
    private final PriorityQueue<Event> events = new PriorityQueue<>(Event.IN_ORDER);
    private final Map<Long, Going> waiting = new LinkedHashMap<>();
    private final Map<Going.Like, Deque<Going>> queues = new LinkedHashMap<>();
    private final Map<Long, Running> running = new LinkedHashMap<>();
    private final Beside together = new Beside();
    private final List<Going> all = new ArrayList<>();
    /** The queues of each lane, and the lanes of those that wait of a job. */
    private final Map<String, Set<Going.Like>> byLane = new HashMap<>();

    private final Map<String, Set<String>> lanesOfJob = new HashMap<>();
    /** The lanes in which something happened since the last decision; empty for what takes no lane. */
    private final Set<String> changed = new HashSet<>();
    /** Whether all that wait are looked at, since places are scarce. */
    private boolean everybody;

    private final int width;
    private int tasks;
    private long numbers;

    private Simulation(int width, Map<String, LaneNow> lanes) {
        this.width = width;
        this.lanes = lanes;
    }

    /**
     * Plays a span of time.
     *
     * @param runs what is under way at its beginning, and what comes; the outcomes are in this order
     * @param until what has not begun by then is left open
     */
    public static Played play(int width, Map<String, LaneNow> lanes, List<Coming> runs, Instant now, Instant until) {
        var simulation = new Simulation(width, lanes);
        // what is under way has its places before anything else is looked at
        List<Going> all = runs.stream().map(run -> simulation.made(run, null)).toList();
        all.stream().filter(going -> going.run.isUnderWay()).forEach(going -> simulation.goesOn(going, now));
        all.stream()
                .filter(going -> !going.run.isUnderWay())
                .forEach(going -> simulation.comes(going, going.run.at(), now));
        simulation.play(until);
        return new Played(
                all.stream().map(going -> outcome(going, now, until)).toList(),
                simulation.all.stream()
                        .filter(going -> going.begins != null && going.ends != null)
                        .flatMap(going -> going.run.demand().lanes().entrySet().stream()
                                .map(lane -> new Taken(
                                        lane.getKey(), lane.getValue(), going.begins, going.ends, going.run.job())))
                        .toList(),
                simulation.all.stream()
                        .flatMap(going -> going.waited(until).stream())
                        .toList());
    }

    private static Outcome outcome(Going going, Instant now, Instant until) {
        return new Outcome(
                going.run,
                Optional.ofNullable(going.begins),
                Optional.ofNullable(going.ends),
                Optional.ofNullable(going.waitedFor),
                going.skipped,
                going.within(until),
                going.stuck(false),
                going.longest(now));
    }

    private void goesOn(Going going, Instant now) {
        begin(going, going.run.stands().orElseThrow().since(), now);
    }

    private Going made(Coming run, Going parent) {
        Going going = new Going(++numbers, run, parent);
        all.add(going);
        return going;
    }

    /** @param at when it comes, where it is not there already */
    private void comes(Going going, Instant at, Instant now) {
        going.came = going.run.stands().map(Standing::since).orElse(at);
        Instant ready = going.came.plus(going.run.ready());
        going.ready = going.run.bounds().opens().filter(ready::isBefore).orElse(ready);
        events.add(new Event(going.ready.isBefore(now) ? now : going.ready, false, going));
    }

    private void play(Instant until) {
        while (!events.isEmpty() && !events.peek().at().isAfter(until)) {
            Instant now = events.peek().at();
            while (!events.isEmpty() && !events.peek().at().isAfter(now)) {
                boolean ends = events.peek().ends();
                while (!events.isEmpty()
                        && !events.peek().at().isAfter(now)
                        && events.peek().ends() == ends) {
                    Event event = events.poll();
                    if (event.ends()) {
                        end(event.of(), now);
                    } else {
                        arrive(event.of(), now);
                    }
                }
                admit(now);
            }
        }
    }

    private void arrive(Going going, Instant now) {
        boolean waits = waiting.containsKey(going.number);
        if (going.begins != null || going.isOver()) {
            return;
        }
        boolean kept = isKept(going, now);
        if (!going.isOver()) {
            going.run.bounds().turn(now).ifPresent(turn -> events.add(new Event(turn, false, going)));
        }
        if (kept || waits) {
            return;
        }
        waiting.put(going.number, going);
        Going.Like like = going.like();
        queue(queues.computeIfAbsent(like, key -> new ArrayDeque<>()), going);
        Demand demand = going.run.demand();
        Set<String> in = demand.lanes().isEmpty() ? Set.of("") : demand.lanes().keySet();
        in.forEach(lane ->
                byLane.computeIfAbsent(lane, key -> new LinkedHashSet<>()).add(like));
        lanesOfJob.computeIfAbsent(demand.crowd().job(), key -> new HashSet<>()).addAll(in);
        change(demand);
    }

    /** Mostly the one that comes later goes behind. */
    private static void queue(Deque<Going> queue, Going going) {
        var behind = new ArrayDeque<Going>();
        while (!queue.isEmpty() && Going.IN_TURN.compare(queue.peekLast(), going) > 0) {
            behind.push(queue.pollLast());
        }
        queue.add(going);
        queue.addAll(behind);
    }

    /** Keeps a run from beginning where it may not; it comes again when that is over. */
    private boolean isKept(Going going, Instant now) {
        Optional<Bounds.Off> off = going.run.bounds().at(now);
        boolean skips =
                going.run.bounds().isOver(now) || off.filter(Bounds.Off::skips).isPresent();
        if (!skips && off.isEmpty()) {
            return false;
        }
        off.ifPresent(each -> going.waitsFor(each.why()));
        if (waiting.containsKey(going.number)) {
            left(going.number);
        }
        if (skips) {
            going.skipped = true;
            partOver(going, now);
        }
        return true;
    }

    private void admit(Instant now) {
        boolean more = !waiting.isEmpty();
        while (more) {
            var looked = new ArrayList<WaitingRun>();
            var sweeps = new HashSet<Going>();
            stirred().forEach(queue -> look(queue, looked, sweeps));
            if (tasks + looked.size() > width && !everybody) {
                // where places are scarce, who goes first is a matter for all that wait
                everybody = true;
                continue;
            }
            Verdict verdict = looked.isEmpty() ? Verdict.NOTHING : decide(now, looked);
            changed.clear();
            everybody = tasks >= width;
            for (Held held : verdict.held()) {
                waiting.get(held.number()).waitsFor(held.by());
            }
            verdict.skipped().forEach(held -> {
                Going gone = left(held.number());
                gone.skipped = true;
                gone.waitsFor(held.by());
                partOver(gone, now);
            });
            for (Long number : verdict.begin()) {
                Going going = left(number);
                change(going.run.demand());
                begin(going, now, now);
            }
            // more of those that are alike may begin than were looked at
            more = !verdict.begin().isEmpty() && !waiting.isEmpty();
        }
    }

    /** Of what is under way a decision is told what has to do with those that wait; the others only take places. */
    private Verdict decide(Instant now, List<WaitingRun> looked) {
        var in = new HashSet<String>();
        var among = new HashSet<String>();
        boolean everywhere = false;
        for (WaitingRun run : looked) {
            Demand demand = run.demand();
            in.addAll(demand.lanes().keySet());
            among.add(demand.crowd().job());
            everywhere |= run.parent() || demand.lanes().isEmpty();
        }
        List<Running> beside = new ArrayList<>();
        int apart = 0;
        for (Running run : running.values()) {
            if (everywhere
                    || among.contains(run.demand().crowd().job())
                    || !Collections.disjoint(run.demand().lanes().keySet(), in)) {
                beside.add(run);
            } else {
                apart += run.parent() ? 0 : 1;
            }
        }
        return new Admission(Math.max(0, width - apart)).decide(new Snapshot(now, beside, looked, List.of(), lanes));
    }

    /** Notes that something happened to what a run takes. */
    private void change(Demand demand) {
        changed.addAll(demand.lanes().isEmpty() ? Set.of("") : demand.lanes().keySet());
        changed.addAll(lanesOfJob.getOrDefault(demand.crowd().job(), Set.of()));
    }

    /** The queues that what happened may concern. */
    private Collection<Deque<Going>> stirred() {
        if (everybody) {
            return List.copyOf(queues.values());
        }
        var stirred = new LinkedHashSet<Going.Like>();
        changed.forEach(lane -> stirred.addAll(byLane.getOrDefault(lane, Set.of())));
        return stirred.stream().map(queues::get).filter(Objects::nonNull).toList();
    }

    /** @param sweeps those whose next row is looked at already */
    private void look(Deque<Going> queue, List<WaitingRun> looked, Set<Going> sweeps) {
        int taken = 0;
        for (Going going : queue) {
            if (going.isRow() && !sweeps.add(going.parent)) {
                continue;
            }
            Demand demand = going.run.demand();
            boolean full = together.count(demand.crowd()) >= demand.overlap().sideBySide();
            boolean waits = demand.overlap().mode() == Overlap.Mode.WAIT;
            if (!demand.crowd().isNone() && full && waits) {
                going.waitsForOthers(demand.crowd());
                continue;
            }
            looked.add(new WaitingRun(
                    going.number,
                    going.run.team(),
                    going.lineTime(),
                    going.waitsSince(),
                    going.run.parent(),
                    going.run.priority(),
                    demand,
                    Optional.empty()));
            if (++taken == LOOKED_AT) {
                return;
            }
        }
    }

    private Going left(long number) {
        Going going = waiting.remove(number);
        Going.Like like = going.like();
        Deque<Going> queue = queues.get(like);
        queue.remove(going);
        if (queue.isEmpty()) {
            queues.remove(like);
        }
        return going;
    }

    /** @param at when it begins, or began */
    private void begin(Going going, Instant at, Instant now) {
        going.begins(at);
        tasks += going.run.parent() ? 0 : 1;
        running.put(going.number, new Running(going.number, going.run.team(), going.run.parent(), going.run.demand()));
        together.add(going.run.demand().crowd(), going.number);
        if (going.run.parts().isEmpty()) {
            Instant end = going.run.bounds().within(at.plus(going.run.takes()));
            events.add(new Event(end.isAfter(now) ? end : now, true, going));
        } else {
            going.run.bounds().windowEnd().ifPresent(end -> events.add(new Event(end, true, going)));
            going.run.parts().forEach(part -> going.parts.add(null));
            underWay(going, now);
            partsOf(going, now);
        }
    }

    /** The parts that are under way already. */
    private void underWay(Going going, Instant now) {
        List<Part> parts = going.run.parts();
        for (int i = 0; i < parts.size(); i++) {
            if (parts.get(i).run().isUnderWay()) {
                goesOn(part(going, i), now);
            }
        }
    }

    private Going part(Going going, int place) {
        Part part = going.run.parts().get(place);
        Going made = made(part.run(), part.beside() ? null : going);
        going.parts.set(place, made);
        return made;
    }

    /** Lets the parts come that follow nothing, or only what is over. */
    private void partsOf(Going going, Instant now) {
        if (going.isOver()) {
            return;
        }
        List<Part> parts = going.run.parts();
        boolean more = true;
        while (more) {
            // what is not waited for is over for those that follow as soon as it comes
            more = false;
            for (int i = 0; i < parts.size(); i++) {
                if (going.parts.get(i) == null
                        && going.over(parts.get(i).after()) >= parts.get(i).needed()) {
                    comes(part(going, i), now, now);
                    more |= parts.get(i).beside();
                }
            }
        }
        if (going.isThrough()) {
            events.add(new Event(now.plus(going.run.takes()), true, going));
        }
    }

    private void end(Going going, Instant now) {
        if (going.isOver()) {
            return;
        }
        going.ends = now;
        going.led().forEach(part -> stop(part, now));
        running.remove(going.number);
        tasks -= going.run.parent() ? 0 : 1;
        change(going.run.demand());
        together.remove(going.run.demand().crowd(), going.number);
        partOver(going, now);
    }

    /** Ends a part of what is stopped at the end of its window. */
    private void stop(Going part, Instant now) {
        if (part.begins != null) {
            end(part, now);
        } else if (!part.isOver()) {
            part.skipped = true;
            if (waiting.containsKey(part.number)) {
                left(part.number);
            }
        }
    }

    private void partOver(Going going, Instant now) {
        if (going.parent != null) {
            partsOf(going.parent, now);
        }
    }
}
