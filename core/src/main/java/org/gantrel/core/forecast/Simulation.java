package org.gantrel.core.forecast;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collection;
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
import java.util.stream.Stream;
import org.gantrel.core.run.Admission;
import org.gantrel.core.run.Admission.Demand;
import org.gantrel.core.run.Admission.Held;
import org.gantrel.core.run.Admission.LaneNow;
import org.gantrel.core.run.Admission.Running;
import org.gantrel.core.run.Admission.Snapshot;
import org.gantrel.core.run.Admission.Verdict;
import org.gantrel.core.run.Admission.WaitingRun;
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
     * A run that is to come, or one that is under way already.
     *
     * @param at when it is planned; of one that is under way, when it began
     * @param takes how long it usually takes; for one with parts, how long it takes beside them
     * @param ready how long after its time it may begin at the earliest: its gates' usual waits
     * @param after of a part, the places of the parts that it follows
     * @param parts what it leads, of a chain
     * @param bounds when it may not begin
     */
    public record Coming(
            String job,
            String team,
            Instant at,
            int priority,
            Demand demand,
            boolean parent,
            Duration takes,
            Duration ready,
            List<Integer> after,
            List<Coming> parts,
            Bounds bounds) {

        /** A single run. */
        public static Coming single(String job, String team, Instant at, Demand demand, Duration takes) {
            return new Coming(job, team, at, 5, demand, false, takes, Duration.ZERO, List.of(), List.of(), Bounds.NONE);
        }
    }

    /**
     * What becomes of a run.
     *
     * @param begins nothing where it does not within the time that is looked at
     * @param waitedFor what it waited for last before it began
     * @param skipped whether it does not start at all: another of its job, a hold or the end of its window keeps it from that
     * @param within the longest wait of any of its parts
     * @param stuck what keeps it, or a part of it, from beginning within the time that is looked at
     */
    public record Outcome(
            Coming run,
            Optional<Instant> begins,
            Optional<Instant> ends,
            Optional<Wait> waitedFor,
            boolean skipped,
            Optional<Waited> within,
            Optional<Stuck> stuck) {
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

    private static final class Going {
        private final long number;
        private final Coming run;
        private final Going parent;
        private final List<Going> parts = new ArrayList<>();
        private final int place;
        private Instant ready;
        private Instant begins;
        private Instant ends;
        private Wait waitedFor;
        private boolean skipped;

        private Going(long number, Coming run, Going parent, int place) {
            this.number = number;
            this.run = run;
            this.parent = parent;
            this.place = place;
        }

        /** @param open when the time that is looked at is over, for what waits still */
        private Optional<Waited> waited(Instant open) {
            Instant until = begins == null ? open : begins;
            return skipped || ready == null || waitedFor == null || !until.isAfter(ready)
                    ? Optional.empty()
                    : Optional.of(new Waited(run.job(), run.team(), ready, until, waitedFor));
        }

        private Optional<Waited> within(Instant open) {
            return parts.stream()
                    .flatMap(part -> Stream.concat(part.waited(open).stream(), part.within(open).stream()))
                    .max(Comparator.comparing(Waited::length));
        }

        private Optional<Stuck> stuck(boolean part) {
            if (isOver()) {
                return Optional.empty();
            }
            return begins == null
                    ? Optional.of(new Stuck(run.job(), part, Optional.ofNullable(waitedFor)))
                    : parts.stream().flatMap(each -> each.stuck(true).stream()).findFirst();
        }

        private boolean isOver() {
            return ends != null || skipped;
        }
    }

    private record Event(Instant at, boolean ends, Going of) {
        static final Comparator<Event> IN_ORDER = Comparator.comparing(Event::at)
                .thenComparing(event -> !event.ends())
                .thenComparing(event -> event.of().number);
    }

    private record Like(int priority, String team, boolean parent, Map<String, Integer> lanes) {}

    private final Admission admission;
    private final Map<String, LaneNow> lanes;
    private final PriorityQueue<Event> events = new PriorityQueue<>(Event.IN_ORDER);
    private final Map<Long, Going> waiting = new LinkedHashMap<>();
    private final Map<Like, Deque<Going>> queues = new LinkedHashMap<>();
    private final Map<Long, Running> running = new LinkedHashMap<>();
    private final Map<String, Integer> crowds = new HashMap<>();
    private final List<Going> all = new ArrayList<>();
    /** The queues of each lane, and the lanes of those that wait of a crowd. */
    private final Map<String, Set<Like>> byLane = new HashMap<>();

    private final Map<String, Set<String>> lanesOfCrowd = new HashMap<>();
    /** The lanes in which something happened since the last decision; empty for what takes no lane. */
    private final Set<String> changed = new HashSet<>();
    /** Whether all that wait are looked at, since places are scarce. */
    private boolean everybody;

    private final int width;
    private int tasks;
    private long numbers;

    private Simulation(int width, Map<String, LaneNow> lanes) {
        this.admission = new Admission(width);
        this.width = width;
        this.lanes = lanes;
    }

    /**
     * Plays a span of time.
     *
     * @param underway what is under way at its beginning
     * @param until what has not begun by then is left open
     */
    public static Played play(
            int width,
            Map<String, LaneNow> lanes,
            List<Coming> underway,
            List<Coming> coming,
            Instant now,
            Instant until) {
        var simulation = new Simulation(width, lanes);
        underway.forEach(run -> simulation.goesOn(run, now));
        coming.forEach(run -> simulation.comes(run, null, 0, run.at()));
        simulation.play(until);
        return new Played(
                simulation.all.stream()
                        .filter(going -> going.parent == null)
                        .map(going -> outcome(going, until))
                        .toList(),
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

    private static Outcome outcome(Going going, Instant until) {
        return new Outcome(
                going.run,
                Optional.ofNullable(going.begins),
                Optional.ofNullable(going.ends),
                Optional.ofNullable(going.waitedFor),
                going.skipped,
                going.within(until),
                going.stuck(false));
    }

    private void goesOn(Coming run, Instant now) {
        Going going = made(run, null, 0);
        begin(going, run.at());
        if (run.parts().isEmpty()) {
            Instant end = run.bounds().within(run.at().plus(run.takes()));
            events.removeIf(event -> event.of() == going);
            events.add(new Event(end.isAfter(now) ? end : now, true, going));
        }
    }

    private Going made(Coming run, Going parent, int place) {
        Going going = new Going(++numbers, run, parent, place);
        all.add(going);
        if (parent != null) {
            parent.parts.add(going);
        }
        return going;
    }

    private void comes(Coming run, Going parent, int place, Instant at) {
        Going going = made(run, parent, place);
        going.ready = at.plus(run.ready());
        events.add(new Event(going.ready, false, going));
    }

    private void play(Instant until) {
        while (!events.isEmpty() && !events.peek().at().isAfter(until)) {
            Instant now = events.peek().at();
            while (!events.isEmpty() && !events.peek().at().isAfter(now)) {
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
        Like like = like(going.run);
        queues.computeIfAbsent(like, key -> new ArrayDeque<>()).add(going);
        Demand demand = going.run.demand();
        Set<String> in = demand.lanes().isEmpty() ? Set.of("") : demand.lanes().keySet();
        in.forEach(lane ->
                byLane.computeIfAbsent(lane, key -> new LinkedHashSet<>()).add(like));
        lanesOfCrowd.computeIfAbsent(demand.crowd(), key -> new HashSet<>()).addAll(in);
        change(demand);
    }

    /** Keeps a run from beginning where it may not; it comes again when that is over. */
    private boolean isKept(Going going, Instant now) {
        Optional<Bounds.Off> off = going.run.bounds().at(now);
        boolean skips =
                going.run.bounds().isOver(now) || off.filter(Bounds.Off::skips).isPresent();
        if (!skips && off.isEmpty()) {
            return false;
        }
        off.ifPresent(each -> going.waitedFor = each.why());
        if (waiting.containsKey(going.number)) {
            left(going.number);
        }
        if (skips) {
            going.skipped = true;
            partOver(going, now);
        }
        return true;
    }

    private static Like like(Coming run) {
        return new Like(run.priority(), run.team(), run.parent(), run.demand().lanes());
    }

    private void admit(Instant now) {
        boolean more = !waiting.isEmpty();
        while (more) {
            var looked = new ArrayList<WaitingRun>();
            stirred().forEach(queue -> look(queue, looked));
            if (tasks + looked.size() > width && !everybody) {
                // where places are scarce, who goes first is a matter for all that wait
                everybody = true;
                continue;
            }
            Verdict verdict = looked.isEmpty()
                    ? new Verdict(List.of(), List.of(), List.of(), List.of(), List.of())
                    : admission.decide(new Snapshot(now, List.copyOf(running.values()), looked, List.of(), lanes));
            changed.clear();
            everybody = tasks >= width;
            for (Held held : verdict.held()) {
                waiting.get(held.number()).waitedFor = held.by();
            }
            verdict.skipped().forEach(held -> {
                Going gone = left(held.number());
                gone.skipped = true;
                gone.waitedFor = held.by();
                partOver(gone, now);
            });
            for (Long number : verdict.begin()) {
                Going going = left(number);
                change(going.run.demand());
                begin(going, now);
            }
            // more of those that are alike may begin than were looked at
            more = !verdict.begin().isEmpty() && !waiting.isEmpty();
        }
    }

    /** Notes that something happened to what a run takes. */
    private void change(Demand demand) {
        changed.addAll(demand.lanes().isEmpty() ? Set.of("") : demand.lanes().keySet());
        changed.addAll(lanesOfCrowd.getOrDefault(demand.crowd(), Set.of()));
    }

    /** The queues that what happened may concern. */
    private Collection<Deque<Going>> stirred() {
        if (everybody) {
            return List.copyOf(queues.values());
        }
        var stirred = new LinkedHashSet<Like>();
        changed.forEach(lane -> stirred.addAll(byLane.getOrDefault(lane, Set.of())));
        return stirred.stream().map(queues::get).filter(Objects::nonNull).toList();
    }

    private void look(Deque<Going> queue, List<WaitingRun> looked) {
        int taken = 0;
        for (Going going : queue) {
            Demand demand = going.run.demand();
            boolean full =
                    crowds.getOrDefault(demand.crowd(), 0) >= demand.overlap().sideBySide();
            boolean waits = demand.overlap().mode() == Overlap.Mode.WAIT;
            if (!demand.crowd().isEmpty() && full && waits) {
                continue;
            }
            looked.add(new WaitingRun(
                    going.number,
                    going.run.team(),
                    going.ready,
                    going.ready,
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
        Like like = like(going.run);
        Deque<Going> queue = queues.get(like);
        queue.remove(going);
        if (queue.isEmpty()) {
            queues.remove(like);
        }
        return going;
    }

    private void begin(Going going, Instant now) {
        going.begins = now;
        tasks += going.run.parent() ? 0 : 1;
        running.put(going.number, new Running(going.number, going.run.team(), going.run.parent(), going.run.demand()));
        crowds.merge(going.run.demand().crowd(), 1, Integer::sum);
        if (going.run.parts().isEmpty()) {
            events.add(new Event(going.run.bounds().within(now.plus(going.run.takes())), true, going));
        } else {
            going.run.bounds().windowEnd().ifPresent(end -> events.add(new Event(end, true, going)));
            partsOf(going, now);
        }
    }

    /** Lets the parts come that follow nothing, or only what is over. */
    private void partsOf(Going going, Instant now) {
        if (going.isOver()) {
            return;
        }
        List<Coming> parts = going.run.parts();
        for (int i = 0; i < parts.size(); i++) {
            int place = i;
            boolean known = going.parts.stream().anyMatch(part -> part.place == place);
            boolean free = parts.get(i).after().stream()
                    .allMatch(before -> going.parts.stream().anyMatch(part -> part.place == before && part.isOver()));
            if (!known && free) {
                comes(parts.get(i), going, i, now);
            }
        }
        boolean through =
                going.parts.size() == parts.size() && going.parts.stream().allMatch(Going::isOver);
        if (through) {
            events.add(new Event(now.plus(going.run.takes()), true, going));
        }
    }

    private void end(Going going, Instant now) {
        if (going.isOver()) {
            return;
        }
        going.ends = now;
        going.parts.forEach(part -> stop(part, now));
        running.remove(going.number);
        tasks -= going.run.parent() ? 0 : 1;
        change(going.run.demand());
        crowds.merge(going.run.demand().crowd(), -1, Integer::sum);
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
