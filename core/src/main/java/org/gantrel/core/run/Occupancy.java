package org.gantrel.core.run;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Deque;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.gantrel.core.run.Admission.LaneNow;
import org.gantrel.core.run.Admission.Running;
import org.gantrel.core.run.Admission.WaitingRun;
import org.gantrel.core.run.Wait.Kind;

/** Who holds what while a decision is made: places in lanes, by team too, and runs of the same crowd. */
final class Occupancy {

    private final Map<String, LaneNow> lanes;
    private final Map<String, Integer> used = new HashMap<>();
    /** What parents hold of that; it comes free when others have ended, which may need the lane themselves. */
    private final Map<String, Integer> usedByParents = new HashMap<>();

    private final Map<String, Map<String, Integer>> usedByTeam = new HashMap<>();
    private final Map<String, Integer> teams = new HashMap<>();
    private final Beside beside = new Beside();
    /** Lanes whose next free places are kept for a run, by its number. */
    private final Map<String, Long> kept = new HashMap<>();
    /** The parents that hold something and whose parts need something. */
    private final List<Running> leading = new ArrayList<>();

    Occupancy(List<Running> running, Map<String, LaneNow> lanes) {
        this.lanes = lanes;
        running.forEach(this::add);
    }

    void add(Running run) {
        run.demand().lanes().forEach((lane, places) -> {
            used.merge(lane, places, Integer::sum);
            usedByParents.merge(lane, run.parent() ? places : 0, Integer::sum);
            usedByTeam.computeIfAbsent(lane, key -> new HashMap<>()).merge(run.team(), places, Integer::sum);
        });
        if (!run.parent()) {
            teams.merge(run.team(), 1, Integer::sum);
        }
        beside.add(run.demand().crowd(), run.number());
        if (run.parent() && !run.demand().needs().isEmpty()) {
            leading.add(run);
        }
    }

    /** The runs under way of a crowd. */
    List<Long> of(Crowd crowd) {
        return beside.of(crowd);
    }

    /** How much a team has of some lanes; of the service where there are none. */
    int share(String team, Collection<String> of) {
        if (of.isEmpty()) {
            return teams.getOrDefault(team, 0);
        }
        int share = 0;
        for (String lane : of) {
            share += usedByTeam.getOrDefault(lane, Map.of()).getOrDefault(team, 0);
        }
        return share;
    }

    Optional<Wait> crowdWait(WaitingRun run) {
        return beside.waitOf(run.demand().crowd(), run.demand().overlap().sideBySide());
    }

    /** What a run waits for in its lanes; what comes free in a full one is kept for it, where that ends by itself. */
    Optional<Wait> laneWait(WaitingRun run, boolean old) {
        Optional<Wait> wait = Optional.empty();
        var tight = new ArrayList<String>();
        for (Map.Entry<String, Integer> each : run.demand().lanes().entrySet().stream()
                .sorted(Map.Entry.comparingByKey())
                .toList()) {
            String name = each.getKey();
            LaneNow lane = lanes.get(name);
            Optional<String> hard = hard(name, lane, each.getValue());
            if (hard.isPresent()) {
                return Optional.of(new Wait(Kind.SHUT, name, hard.get()));
            }
            Optional<Wait> soft = soft(name, lane, each.getValue());
            if (soft.isPresent() && !kept.containsKey(name)) {
                tight.add(name);
            }
            wait = wait.or(() -> soft);
        }
        if (wait.isPresent() && waitsForTasksAlone(run)) {
            (old ? run.demand().lanes().keySet() : tight).forEach(lane -> kept.putIfAbsent(lane, run.number()));
        }
        return wait;
    }

    private Optional<Wait> soft(String name, LaneNow lane, int places) {
        if (kept.containsKey(name)) {
            return Optional.of(new Wait(Kind.LANE, name, "its turn in lane " + name));
        }
        return used.getOrDefault(name, 0) + places > lane.width()
                ? Optional.of(new Wait(Kind.LANE, name, full(name, lane, places)))
                : Optional.empty();
    }

    /**
     * Whether all that is in a run's way ends by itself. Only then are places kept for it: a parent may end only after
     * steps that need those very places.
     */
    private boolean waitsForTasksAlone(WaitingRun run) {
        return run.demand().lanes().entrySet().stream()
                .allMatch(each -> usedByParents.getOrDefault(each.getKey(), 0) + each.getValue()
                        <= lanes.get(each.getKey()).width());
    }

    private static Optional<String> hard(String name, LaneNow lane, int places) {
        if (lane == null) {
            return Optional.of("lane " + name + ", which is not there any more");
        }
        if (lane.shut().isPresent()) {
            return Optional.of("lane " + name + " to open: " + lane.shut().get());
        }
        return places > lane.width()
                ? Optional.of("lane " + name + " to be widened: it takes " + places + " places, and the lane has "
                        + lane.width())
                : Optional.empty();
    }

    /** The same for all that wait for it, whoever takes the places: it is written down with each of them. */
    private String full(String name, LaneNow lane, int places) {
        return (places == 1 ? "a place" : places + " places") + " in lane " + name + ": " + used.getOrDefault(name, 0)
                + " of " + lane.width() + " taken";
    }

    /**
     * Whether a parent would close a circle: it holds what the parts of another need, whose parents hold what its own parts
     * need. While there is no circle among those under way, one of them can always go on.
     */
    Optional<Wait> circle(WaitingRun run) {
        Set<String> holds = run.demand().holds();
        if (holds.isEmpty() || run.demand().needs().isEmpty() || leading.isEmpty()) {
            return Optional.empty();
        }
        Map<String, Running> by = new HashMap<>();
        Deque<String> open = new ArrayDeque<>(run.demand().needs());
        Set<String> seen = new HashSet<>(open);
        while (!open.isEmpty()) {
            String need = open.poll();
            for (Running other : leading) {
                if (!other.demand().holds().contains(need)) {
                    continue;
                }
                for (String next : other.demand().needs()) {
                    Running first = by.getOrDefault(need, other);
                    if (holds.contains(next)) {
                        return Optional.of(new Wait(
                                Kind.CIRCLE,
                                String.valueOf(first.number()),
                                "run " + first.number() + " to end, which holds what its own steps need, and needs "
                                        + next));
                    }
                    if (seen.add(next)) {
                        by.put(next, first);
                        open.add(next);
                    }
                }
            }
        }
        return Optional.empty();
    }
}
