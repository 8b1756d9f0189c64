package org.gantrel.core.run;

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
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import org.gantrel.core.run.Wait.Kind;

/**
 * Decides which waiting runs may begin now. Pure: it looks at a snapshot and names the runs; beginning them is the
 * engine's work.
 *
 * <p>The rule. A run may begin when nothing holds it, no more runs of its crowd are under way than may be, each of its
 * lanes is open and has as many free places as it takes, and the service has a free place. Among those that may, the
 * higher priority goes first, and each {@link #STEP} of waiting counts as one more; then the run whose team has
 * fewer places in its lanes (or, without lanes, in the service); then runs before rows of sweeps; then the one that was
 * planned earlier. A run that is first in a full lane keeps the places that come free in it; once it has waited a {@link #STEP}, those in all its lanes;
 * none while a chain or a sweep holds one of its lanes, whose steps might need the others. So none is passed over for ever.
 *
 * <p>A chain or a sweep takes no place of the service, since it only leads others. One that holds a lane begins only where
 * that closes no circle of parents which hold what others need, so that no parent can keep its own children waiting.
 *
 * <p>The next row of a sweep waits as a run does, by the same rule, from when the row before it began. Sweeps that are alike
 * take turns. So a sweep of many rows keeps no run waiting that is its equal, and, since waiting raises a row too, no stream
 * of runs keeps a sweep waiting for ever.
 *
 * @param width how many tasks the whole service runs at once
 */
public record Admission(int width) {

    /** So long a wait raises a run by one priority. */
    public static final Duration STEP = Duration.ofMinutes(15);

    /** Longer than anything waits, and than anybody plans ahead. */
    private static final Duration BEHIND_RUNS = Duration.ofDays(365_000);

    /** By when a row stands in line that could have begun since then: behind all runs, and among rows in turn. */
    public static Instant turnOfRow(Instant since) {
        return since.plus(BEHIND_RUNS);
    }

    /**
     * What a run takes while it is under way.
     *
     * @param lanes places by lane
     * @param crowd the runs that count together with it
     * @param needs what its parts will need beside, of a parent: lanes and crowds
     */
    public record Demand(Map<String, Integer> lanes, Crowd crowd, Overlap overlap, Set<String> needs) {
        public static final Demand NOTHING = new Demand(Map.of(), Crowd.NONE, Overlap.USUAL, Set.of());

        /** The same for a run that has been under way before. */
        public Demand again() {
            return new Demand(lanes, crowd, overlap.waiting(), needs);
        }

        /** The same where some lanes are held around it already. */
        public Demand within(Set<String> held) {
            var left = new HashMap<>(lanes);
            left.keySet().removeAll(held);
            var needed = new HashSet<>(needs);
            held.forEach(lane -> needed.remove(ofLane(lane)));
            return new Demand(left, crowd, overlap, needed);
        }

        /** All that it holds, as {@code needs} names it. */
        Set<String> holds() {
            var all = new HashSet<String>();
            lanes.keySet().forEach(lane -> all.add(ofLane(lane)));
            if (!crowd.isNone()) {
                // values tell runs apart that are known only when they come; so all runs of the job count here
                all.add(ofCrowd(crowd.job()));
            }
            return all;
        }
    }

    /** How {@link Demand#needs} names a lane. */
    public static String ofLane(String lane) {
        return "lane " + lane;
    }

    /** How {@link Demand#needs} names the runs of a job. */
    public static String ofCrowd(String job) {
        return "run of " + job;
    }

    /**
     * A run that waits.
     *
     * @param since from when on its waiting counts
     * @param parent whether it only leads other runs
     * @param held why it may not begin whatever is free; nothing where it may
     */
    public record WaitingRun(
            long number,
            String team,
            Instant plannedAt,
            Instant since,
            boolean parent,
            int priority,
            Demand demand,
            Optional<Wait> held) {

        /** A run of no lane, that others of its job do not concern. */
        public static WaitingRun plain(long number, Instant plannedAt, boolean parent) {
            return new WaitingRun(number, "", plannedAt, plannedAt, parent, 5, Demand.NOTHING, Optional.empty());
        }
    }

    /** A run that is under way. */
    public record Running(long number, String team, boolean parent, Demand demand) {}

    /**
     * A sweep that could begin rows.
     *
     * @param rows how many its own width leaves room for
     * @param parents whether its rows only lead other runs
     * @param demand what each row takes
     * @param since from when on it could have begun one
     */
    public record WaitingRows(
            long sweep, int rows, boolean parents, String team, int priority, Demand demand, Instant since) {

        /** The same, where it has been waiting for longer. */
        public WaitingRows since(Instant earlier) {
            return new WaitingRows(sweep, rows, parents, team, priority, demand, earlier);
        }

        /** What is left when one has begun. */
        private WaitingRows further(Instant began) {
            return new WaitingRows(sweep, rows - 1, parents, team, priority, demand, began);
        }

        private WaitingRun next() {
            return new WaitingRun(sweep, team, turnOfRow(since), since, parents, priority, demand, Optional.empty());
        }
    }

    /** A lane as it is now. @param shut why nothing begins in it; nothing where it is open */
    public record LaneNow(int width, Optional<String> shut) {}

    /** What is the case now, as the ledger has it. */
    public record Snapshot(
            Instant now,
            List<Running> running,
            List<WaitingRun> runs,
            List<WaitingRows> sweeps,
            Map<String, LaneNow> lanes) {}

    /** A run that goes on waiting, and for what. */
    public record Held(long number, Wait by) {}

    /** How many rows a sweep may begin. */
    public record Rows(long sweep, int rows) {}

    /** A run that is to be stopped since a later one takes its place. */
    public record Replaced(long number, long by) {}

    /**
     * What may begin, in order, and what may not.
     *
     * @param rowsHeld the sweeps of which no row may begin, and for what their next ones wait
     */
    public record Verdict(
            List<Long> begin,
            List<Held> held,
            List<Rows> rows,
            List<Held> rowsHeld,
            List<Held> skipped,
            List<Replaced> replaced) {
        public static final Verdict NOTHING =
                new Verdict(List.of(), List.of(), List.of(), List.of(), List.of(), List.of());

        /** Whether anything begins or ends. */
        public boolean moves() {
            return !begin.isEmpty() || !rows.isEmpty() || !skipped.isEmpty() || !replaced.isEmpty();
        }
    }

    public Verdict decide(Snapshot now) {
        return new Pass(now).decide();
    }

    /** Runs that any look treats alike but for their crowd and their planned time. */
    private record Like(int priority, String team, boolean parent, boolean old, Map<String, Integer> lanes) {}

    private static final Comparator<WaitingRun> IN_ORDER =
            Comparator.comparing(WaitingRun::plannedAt).thenComparing(WaitingRun::number);

    /** Runs that are alike, in order, or the next rows of a sweep, with what their team has of their lanes. */
    private static final class Group {
        private final Like like;
        private final Deque<WaitingRun> runs = new ArrayDeque<>();
        private int share;
        /** Of a sweep, what it could begin beside those that it has been given. */
        private WaitingRows rows;

        private int rowsGiven;

        private Group(Like like) {
            this.like = like;
        }

        private static Group of(WaitingRows rows, int given, Instant now) {
            var group = new Group(like(rows.next(), now));
            group.runs.add(rows.next());
            group.rows = rows;
            group.rowsGiven = given;
            return group;
        }

        /** The next row of the sweep, which stands in line from now on; nothing where that was the last. */
        private Optional<Group> further(Instant now) {
            return rows.rows() == 1 ? Optional.empty() : Optional.of(of(rows.further(now), rowsGiven + 1, now));
        }

        private static Like like(WaitingRun run, Instant now) {
            long steps = Math.max(0, Duration.between(run.since(), now).dividedBy(STEP));
            return new Like(
                    run.priority() + (int) Math.min(steps, 1_000_000),
                    run.team(),
                    run.parent(),
                    steps > 0,
                    run.demand().lanes());
        }

        private boolean isOfRows() {
            return rows != null;
        }

        private static final Comparator<Group> IN_TURN = Comparator.comparing((Group group) -> -group.like.priority())
                .thenComparing(group -> group.share)
                .thenComparing(group -> group.rowsGiven)
                .thenComparing(group -> group.runs.peek(), IN_ORDER);
    }

    /** One decision, with what is taken while it is made. */
    private final class Pass {

        private final Snapshot now;
        private final Occupancy taken;
        private final List<Long> begin = new ArrayList<>();
        private final List<Held> held = new ArrayList<>();
        private final Map<Long, Integer> rows = new HashMap<>();
        private final List<Held> rowsHeld = new ArrayList<>();
        private final List<Held> skipped = new ArrayList<>();
        private final List<Replaced> replaced = new ArrayList<>();
        private final TreeSet<Group> inTurn = new TreeSet<>(Group.IN_TURN);
        private final Map<String, List<Group>> byLane = new HashMap<>();
        private int free;

        private Pass(Snapshot now) {
            this.now = now;
            this.taken = new Occupancy(now.running(), now.lanes());
            this.free = Math.max(
                    0,
                    width
                            - (int) now.running().stream()
                                    .filter(run -> !run.parent())
                                    .count());
        }

        private Verdict decide() {
            line();
            while (!inTurn.isEmpty()) {
                Group group = inTurn.pollFirst();
                if (group.isOfRows()) {
                    row(group);
                    continue;
                }
                WaitingRun run = group.runs.peek();
                Optional<Wait> own = taken.crowdWait(run).or(() -> run.parent() ? taken.circle(run) : Optional.empty());
                Optional<Wait> all = own.isPresent() ? Optional.empty() : waitOf(run, group.like);
                if (all.isPresent()) {
                    group.runs.forEach(each -> taken.crowdWait(each)
                            .ifPresentOrElse(wait -> late(each, wait), () -> hold(each, all.get())));
                    group.runs.clear();
                    continue;
                }
                group.runs.poll();
                if (!group.runs.isEmpty()) {
                    inTurn.add(group);
                }
                own.ifPresentOrElse(wait -> late(run, wait), () -> {
                    begin.add(run.number());
                    take(run);
                });
            }
            List<Rows> begun = now.sweeps().stream()
                    .filter(sweep -> rows.containsKey(sweep.sweep()))
                    .map(sweep -> new Rows(sweep.sweep(), rows.get(sweep.sweep())))
                    .toList();
            return new Verdict(begin, held, begun, rowsHeld, skipped, replaced);
        }

        /** Lets the next row of a sweep begin, where it may. */
        private void row(Group group) {
            WaitingRun next = group.runs.poll();
            Optional<Wait> wait =
                    (next.parent() ? taken.circle(next) : Optional.<Wait>empty()).or(() -> waitOf(next, group.like));
            if (wait.isPresent()) {
                if (group.rowsGiven == 0) {
                    rowsHeld.add(new Held(next.number(), wait.get()));
                }
                return;
            }
            rows.merge(next.number(), 1, Integer::sum);
            take(next);
            group.further(now.now()).ifPresent(this::stand);
        }

        /** Lets those that are alike stand in turn. */
        private void line() {
            groups().forEach(this::stand);
            now.sweeps().forEach(sweep -> stand(Group.of(sweep, 0, now.now())));
        }

        private void stand(Group group) {
            group.share = shareOf(group);
            inTurn.add(group);
            Set<String> lanes = group.like.lanes().keySet();
            (lanes.isEmpty() ? Set.of("") : lanes)
                    .forEach(lane -> byLane.computeIfAbsent(lane, key -> new ArrayList<>())
                            .add(group));
        }

        private int shareOf(Group group) {
            return taken.share(group.like.team(), group.like.lanes().keySet());
        }

        /** Puts those into their new turn whose team has more now of their lanes. */
        private void turn(String lane, String team) {
            for (Group group : byLane.getOrDefault(lane, List.of())) {
                if (!group.runs.isEmpty() && group.like.team().equals(team) && inTurn.remove(group)) {
                    group.share = shareOf(group);
                    inTurn.add(group);
                }
            }
        }

        /** What a run waits for together with all that are like it. */
        private Optional<Wait> waitOf(WaitingRun run, Like like) {
            return free == 0 && !like.parent() ? Optional.of(noPlace()) : taken.laneWait(run, like.old());
        }

        private Wait noPlace() {
            return new Wait(Kind.PLACE, "", "a free place: %d of %d commands are running".formatted(width, width));
        }

        private void take(WaitingRun run) {
            taken.add(new Running(run.number(), run.team(), run.parent(), run.demand()));
            run.demand().lanes().keySet().forEach(lane -> turn(lane, run.team()));
            if (!run.parent()) {
                free--;
                turn("", run.team());
            }
        }

        /** What becomes of a run that cannot go beside another. */
        private void late(WaitingRun run, Wait wait) {
            Overlap.Mode mode =
                    wait.kind() == Kind.OVERLAP ? run.demand().overlap().mode() : Overlap.Mode.WAIT;
            switch (mode) {
                case SKIP -> skipped.add(new Held(run.number(), wait));
                case REPLACE -> {
                    taken.of(run.demand().crowd())
                            .forEach(earlier -> replaced.add(new Replaced(earlier, run.number())));
                    hold(run, wait);
                }
                default -> hold(run, wait);
            }
        }

        private void hold(WaitingRun run, Wait wait) {
            held.add(new Held(run.number(), wait));
        }

        private Collection<Group> groups() {
            Map<Crowd, Long> newest = new HashMap<>();
            now.runs().stream()
                    .filter(run -> run.demand().overlap().mode() == Overlap.Mode.REPLACE)
                    .forEach(run -> newest.merge(run.demand().crowd(), run.number(), Math::max));
            var groups = new LinkedHashMap<Like, Group>();
            now.runs().stream().sorted(IN_ORDER).forEach(run -> {
                long later = newest.getOrDefault(run.demand().crowd(), run.number());
                boolean replaces = run.demand().overlap().mode() == Overlap.Mode.REPLACE;
                if (replaces && later > run.number()) {
                    replaced.add(new Replaced(run.number(), later));
                } else if (run.held().isPresent()) {
                    held.add(new Held(run.number(), run.held().get()));
                } else {
                    groups.computeIfAbsent(Group.like(run, now.now()), Group::new)
                            .runs
                            .add(run);
                }
            });
            return groups.values();
        }
    }
}
