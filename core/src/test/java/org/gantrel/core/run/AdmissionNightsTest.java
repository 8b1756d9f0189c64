package org.gantrel.core.run;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.gantrel.core.run.Admission.Demand;
import org.gantrel.core.run.Admission.LaneNow;
import org.gantrel.core.run.Admission.Rows;
import org.gantrel.core.run.Admission.Running;
import org.gantrel.core.run.Admission.Snapshot;
import org.gantrel.core.run.Admission.Verdict;
import org.gantrel.core.run.Admission.WaitingRows;
import org.gantrel.core.run.Admission.WaitingRun;
import org.gantrel.core.run.Overlap.Mode;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.RepeatedTest;
import org.junit.jupiter.api.RepetitionInfo;

/**
 * Generated nights, played from their first start to their last end: tasks, chains of chains and sweeps of both, in lanes, with
 * priorities.
 */
@DisplayName("In any night, admission")
class AdmissionNightsTest {

    private static final Instant NIGHT = Instant.parse("2026-11-23T22:00:00Z");
    private static final int NIGHTS = 500;

    /**
     * A job: what it takes, and the jobs that its steps run one after the other.
     *
     * @param rows how many rows it runs over, of a sweep
     */
    private record Sort(
            String name, Map<String, Integer> lanes, Overlap overlap, List<Sort> steps, int rows, int atOnce) {

        boolean leads() {
            return rows > 0 || !steps.isEmpty();
        }

        Sort ofRow() {
            return new Sort(name, lanes, overlap, steps, 0, 0);
        }

        /** What it takes where others around it hold some lanes. */
        Map<String, Integer> lanesWithin(Set<String> held) {
            var takes = new HashMap<>(lanes);
            takes.keySet().removeAll(held);
            return takes;
        }

        /** All that is held around its parts. */
        Set<String> heldBy(Set<String> around) {
            var held = new HashSet<>(around);
            held.addAll(lanes.keySet());
            return held;
        }

        Set<String> needs(Set<String> held) {
            var needs = new HashSet<String>();
            for (Sort step : steps) {
                step.lanes().keySet().stream()
                        .filter(lane -> !held.contains(lane))
                        .forEach(lane -> needs.add(Admission.ofLane(lane)));
                needs.add(Admission.ofCrowd(step.name()));
                var also = new HashSet<>(held);
                also.addAll(step.lanes().keySet());
                needs.addAll(step.needs(also));
            }
            return needs;
        }
    }

    private static final class Going {
        private final Sort sort;
        private final WaitingRun run;
        private final Going parent;
        private final Set<String> held;
        private int step;
        private int left;

        private Going(Sort sort, WaitingRun run, Going parent, Set<String> held, int left) {
            this.sort = sort;
            this.run = run;
            this.parent = parent;
            this.held = held;
            this.left = left;
        }
    }

    private final List<String> teams = List.of("revenue", "fleet", "timetable");

    @RepeatedTest(20)
    @DisplayName("overfills nothing, follows the written order, and brings every run to its end")
    void bringsAllToTheirEnd(RepetitionInfo repetition) {
        var random = new Random(repetition.getCurrentRepetition());
        for (int night = 0; night < NIGHTS; night++) {
            play(random);
        }
    }

    private void play(Random random) {
        var lanes = new HashMap<String, LaneNow>();
        for (int i = 0; i < random.nextInt(1, 4); i++) {
            lanes.put("lane-" + i, new LaneNow(random.nextInt(1, 4), Optional.empty()));
        }
        List<Sort> sorts = sorts(random, lanes);
        int width = random.nextInt(1, 4);
        var waiting = new ArrayList<Going>();
        var going = new ArrayList<Going>();
        long number = 0;
        int starts = random.nextInt(3, 14);
        Instant now = NIGHT;
        var since = new HashMap<Long, Instant>();
        int rounds = 0;
        while (starts > 0 || !waiting.isEmpty() || !going.isEmpty()) {
            assertThat(rounds++).as("rounds of a night that ends").isLessThan(2_000);
            if (starts > 0 && random.nextInt(3) > 0) {
                starts--;
                waiting.add(start(random, sorts.get(random.nextInt(sorts.size())), ++number, null, now));
            }
            number = letGoOn(random, waiting, going, number, now);
            var snapshot = new Snapshot(
                    now,
                    going.stream().map(each -> running(each.run)).toList(),
                    waiting.stream().map(each -> each.run).toList(),
                    rows(waiting, going, since, now),
                    lanes);
            Verdict verdict = new Admission(width).decide(snapshot);
            var naive = new Naive(width, snapshot);
            assertThat(verdict.begin()).isEqualTo(naive.begin());
            assertThat(verdict.rows().stream().collect(Collectors.toMap(Rows::sweep, Rows::rows)))
                    .isEqualTo(naive.rows);
            number = beginRows(random, verdict.rows(), going, since, number, now);
            for (Long begun : verdict.begin()) {
                Going one = waiting.stream()
                        .filter(each -> each.run.number() == begun)
                        .findFirst()
                        .orElseThrow();
                waiting.remove(one);
                going.add(one);
            }
            verdict.skipped()
                    .forEach(skipped -> waiting.removeIf(each -> {
                        boolean gone = each.run.number() == skipped.number();
                        if (gone && each.parent != null) {
                            each.parent.step++;
                            each.parent.left = 0;
                        }
                        return gone;
                    }));
            check(width, lanes, going);
            now = now.plus(Duration.ofMinutes(random.nextInt(1, 20)));
        }
    }

    private static long beginRows(
            Random random, List<Rows> rows, List<Going> going, Map<Long, Instant> since, long number, Instant now) {
        long next = number;
        for (Rows begun : rows) {
            since.remove(begun.sweep());
            Going sweep = going.stream()
                    .filter(each -> each.run.number() == begun.sweep())
                    .findFirst()
                    .orElseThrow();
            for (int i = 0; i < begun.rows(); i++) {
                sweep.step++;
                going.add(row(random, sweep, ++next, now));
            }
        }
        return next;
    }

    private List<Sort> sorts(Random random, Map<String, LaneNow> lanes) {
        var sorts = new ArrayList<Sort>();
        for (int i = 0; i < random.nextInt(2, 7); i++) {
            var takes = new HashMap<String, Integer>();
            lanes.forEach((name, lane) -> {
                if (random.nextInt(3) == 0) {
                    takes.put(name, random.nextInt(1, lane.width() + 1));
                }
            });
            var steps = new ArrayList<Sort>();
            for (int s = 0; i > 1 && random.nextBoolean() && s < 3; s++) {
                steps.add(sorts.get(random.nextInt(sorts.size())));
            }
            Mode mode = random.nextInt(5) == 0 ? Mode.SKIP : Mode.WAIT;
            int rows = random.nextInt(3) == 0 ? random.nextInt(1, 5) : 0;
            var overlap = new Overlap(mode, random.nextInt(1, 3), List.of());
            sorts.add(new Sort("job-" + i, takes, overlap, steps, rows, random.nextInt(1, 4)));
        }
        return sorts;
    }

    private Going start(Random random, Sort sort, long number, Going parent, Instant now) {
        Set<String> inherited = parent == null ? Set.of() : parent.held;
        boolean sweep = sort.rows() > 0;
        Map<String, Integer> takes = sweep ? Map.of() : sort.lanesWithin(inherited);
        var held = new HashSet<>(inherited);
        held.addAll(takes.keySet());
        boolean leads = sort.leads();
        Set<String> needs = leads ? sort.needs(sweep ? sort.heldBy(inherited) : held) : Set.of();
        if (sweep) {
            sort.lanesWithin(inherited).keySet().forEach(lane -> needs.add(Admission.ofLane(lane)));
        }
        var run = new WaitingRun(
                number,
                teams.get(random.nextInt(teams.size())),
                now.minus(Duration.ofMinutes(random.nextInt(3))),
                now,
                leads,
                random.nextInt(1, 10),
                new Demand(takes, crowd(random, sort.name()), sort.overlap(), needs),
                Optional.empty());
        return new Going(sort, run, parent, held, random.nextInt(1, 5));
    }

    /** Mostly all runs of a job count together; revisions of some may tell them apart, each by other values. */
    private static Crowd crowd(Random random, String job) {
        Map<String, String> values = new TreeMap<>();
        if (job.hashCode() % 2 == 0) {
            for (String name : List.of("day", "route")) {
                if (random.nextBoolean()) {
                    values.put(name, "ab".substring(random.nextInt(2)));
                }
            }
        }
        return new Crowd(job, values);
    }

    /** What sweeps under way could begin. */
    private static List<WaitingRows> rows(
            List<Going> waiting, List<Going> going, Map<Long, Instant> since, Instant now) {
        var rows = new ArrayList<WaitingRows>();
        for (Going each : going) {
            int underway = (int) Stream.concat(waiting.stream(), going.stream())
                    .filter(other -> other.parent == each)
                    .count();
            int most = Math.min(each.sort.rows() - each.step, each.sort.atOnce() - underway);
            if (most > 0) {
                rows.add(new WaitingRows(
                        each.run.number(),
                        most,
                        each.sort.ofRow().leads(),
                        each.run.team(),
                        each.run.priority(),
                        ofRow(each),
                        since.computeIfAbsent(each.run.number(), key -> now)));
            }
        }
        return rows;
    }

    private static Demand ofRow(Going sweep) {
        Sort sort = sweep.sort.ofRow();
        return new Demand(
                sort.lanesWithin(sweep.held),
                Crowd.NONE,
                Overlap.USUAL,
                sort.leads() ? sort.needs(sort.heldBy(sweep.held)) : Set.of());
    }

    private static Going row(Random random, Going sweep, long number, Instant now) {
        Sort sort = sweep.sort.ofRow();
        WaitingRun of = sweep.run;
        var run = new WaitingRun(
                number, of.team(), now, now, sort.leads(), of.priority(), ofRow(sweep), Optional.empty());
        return new Going(sort, run, sweep, sort.heldBy(sweep.held), random.nextInt(1, 5));
    }

    private long letGoOn(Random random, List<Going> waiting, List<Going> going, long number, Instant now) {
        long next = number;
        for (Going each : List.copyOf(going)) {
            if (each.sort.leads()) {
                boolean busy = Stream.concat(waiting.stream(), going.stream()).anyMatch(other -> other.parent == each);
                if (busy) {
                    continue;
                }
                if (each.sort.rows() > 0) {
                    if (each.step == each.sort.rows()) {
                        going.remove(each);
                    }
                } else if (each.step < each.sort.steps().size()) {
                    waiting.add(start(random, each.sort.steps().get(each.step++), ++next, each, now));
                } else {
                    going.remove(each);
                }
            } else if (--each.left <= 0) {
                going.remove(each);
            }
        }
        return next;
    }

    private static void check(int width, Map<String, LaneNow> lanes, List<Going> going) {
        assertThat(going.stream().filter(each -> !each.sort.leads()).count()).isLessThanOrEqualTo(width);
        lanes.forEach((name, lane) -> assertThat(going.stream()
                        .mapToInt(each -> each.run.demand().lanes().getOrDefault(name, 0))
                        .sum())
                .isLessThanOrEqualTo(lane.width()));
        for (int i = 0; i < going.size(); i++) {
            Going each = going.get(i);
            // a later one of another revision goes by its own rule
            assertThat(going.subList(0, i).stream()
                            .filter(other -> areTogether(other.run.demand(), each.run.demand()))
                            .count())
                    .isLessThan(each.sort.overlap().sideBySide());
        }
    }

    /** Whether two are of one job, and no value tells them apart that both are told apart by. */
    private static boolean areTogether(Demand one, Demand other) {
        Map<String, String> values = one.crowd().values();
        return !one.crowd().job().isEmpty()
                && one.crowd().job().equals(other.crowd().job())
                && values.keySet().stream()
                        .filter(other.crowd().values()::containsKey)
                        .allMatch(name ->
                                values.get(name).equals(other.crowd().values().get(name)));
    }

    private static Running running(WaitingRun run) {
        return new Running(run.number(), run.team(), run.parent(), run.demand());
    }

    /** The written rule, word by word: one run after the other, each time looking through all. */
    private static final class Naive {
        private final int width;
        private final Snapshot now;
        private final List<Running> going;
        private final Map<String, Long> kept = new HashMap<>();
        private final List<Long> begin = new ArrayList<>();
        private final Map<Long, Integer> rows = new HashMap<>();

        private Naive(int width, Snapshot now) {
            this.width = width;
            this.now = now;
            this.going = new ArrayList<>(now.running());
        }

        private List<Long> begin() {
            var left = new ArrayList<>(now.runs());
            now.sweeps().forEach(sweep -> left.add(next(sweep, sweep.since())));
            while (!left.isEmpty()) {
                WaitingRun run = left.stream().min(order()).orElseThrow();
                left.remove(run);
                if (!isApart(run) || !hasRoom(run)) {
                    continue;
                }
                going.add(running(run));
                Optional<WaitingRows> sweep = now.sweeps().stream()
                        .filter(each -> each.sweep() == run.number())
                        .findFirst();
                if (sweep.isEmpty()) {
                    begin.add(run.number());
                } else if (rows.merge(run.number(), 1, Integer::sum)
                        < sweep.get().rows()) {
                    left.add(next(sweep.get(), now.now()));
                }
            }
            return begin;
        }

        private static WaitingRun next(WaitingRows sweep, Instant since) {
            return new WaitingRun(
                    sweep.sweep(),
                    sweep.team(),
                    since,
                    since,
                    sweep.parents(),
                    sweep.priority(),
                    sweep.demand(),
                    Optional.empty());
        }

        private Comparator<WaitingRun> order() {
            return Comparator.comparing((WaitingRun run) -> -priority(run))
                    .thenComparing(this::share)
                    .thenComparing(this::isOfSweep)
                    .thenComparing(run -> rows.getOrDefault(run.number(), 0))
                    .thenComparing(WaitingRun::plannedAt)
                    .thenComparing(WaitingRun::number);
        }

        private boolean isOfSweep(WaitingRun run) {
            return now.sweeps().stream().anyMatch(sweep -> sweep.sweep() == run.number());
        }

        private long priority(WaitingRun run) {
            return run.priority() + Duration.between(run.since(), now.now()).dividedBy(Admission.STEP);
        }

        private int share(WaitingRun run) {
            Set<String> lanes = run.demand().lanes().keySet();
            return going.stream()
                    .filter(other -> other.team().equals(run.team()))
                    .mapToInt(other -> lanes.isEmpty()
                            ? (other.parent() ? 0 : 1)
                            : lanes.stream()
                                    .mapToInt(lane -> other.demand().lanes().getOrDefault(lane, 0))
                                    .sum())
                    .sum();
        }

        private boolean isApart(WaitingRun run) {
            long beside = going.stream()
                    .filter(other -> areTogether(other.demand(), run.demand()))
                    .count();
            return beside < run.demand().overlap().sideBySide() && !(run.parent() && closesCircle(run));
        }

        /** Whether one comes back to what a run holds by going from what parents hold to what their parts need. */
        private boolean closesCircle(WaitingRun run) {
            var reached = new HashSet<>(run.demand().needs());
            boolean more = true;
            while (more) {
                more = false;
                for (Running other : going) {
                    if (other.demand().holds().stream().anyMatch(reached::contains)) {
                        more |= reached.addAll(other.demand().needs());
                    }
                }
            }
            // what it needs itself and holds itself is no circle of others
            var others = new HashSet<String>();
            going.stream()
                    .filter(other -> other.demand().holds().stream().anyMatch(reached::contains))
                    .forEach(other -> others.addAll(other.demand().needs()));
            return run.demand().holds().stream().anyMatch(others::contains);
        }

        private boolean hasRoom(WaitingRun run) {
            boolean old = !Duration.between(run.since(), now.now())
                    .minus(Admission.STEP)
                    .isNegative();
            if (!run.parent() && going.stream().filter(other -> !other.parent()).count() >= width) {
                return false;
            }
            var tight = new ArrayList<String>();
            boolean room = true;
            for (Map.Entry<String, Integer> each : run.demand().lanes().entrySet()) {
                int used = going.stream()
                        .mapToInt(other -> other.demand().lanes().getOrDefault(each.getKey(), 0))
                        .sum();
                if (kept.containsKey(each.getKey())) {
                    room = false;
                } else if (used + each.getValue()
                        > now.lanes().get(each.getKey()).width()) {
                    tight.add(each.getKey());
                    room = false;
                }
            }
            boolean tasksAlone = run.demand().lanes().entrySet().stream()
                    .allMatch(each -> going.stream()
                                            .filter(Running::parent)
                                            .mapToInt(other ->
                                                    other.demand().lanes().getOrDefault(each.getKey(), 0))
                                            .sum()
                                    + each.getValue()
                            <= now.lanes().get(each.getKey()).width());
            if (!room && tasksAlone) {
                (old ? run.demand().lanes().keySet() : tight).forEach(lane -> kept.putIfAbsent(lane, run.number()));
            }
            return room;
        }
    }
}
