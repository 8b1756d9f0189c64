package org.gantrel.service.traffic;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.gantrel.core.lane.Lane;
import org.gantrel.core.run.Admission;
import org.gantrel.core.run.Admission.Demand;
import org.gantrel.core.run.RunState;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.Runs;
import org.gantrel.service.run.Waiter;
import org.springframework.stereotype.Component;

/** Which runs take places in lanes, and which wait for them. */
@Component
class LaneWaits {

    private final Runs runs;
    private final Demands demands;

    LaneWaits(Runs runs, Demands demands) {
        this.runs = runs;
        this.demands = demands;
    }

    /** Those under way that take places in lanes: others are not read, however many there are. */
    List<Run> underway() {
        return runs.all(runs.numbers(RunState.RUNNING).stream()
                .filter(number -> !demands.of(number).lanes().isEmpty())
                .toList());
    }

    /** How many places of a lane a run takes while it is under way. */
    int places(long run, Lane lane) {
        return demands.of(run).lanes().getOrDefault(lane.name(), 0);
    }

    /** All that have not ended and take places in a lane, or of which a part will. */
    List<Long> needing(String lane) {
        return Stream.of(RunState.RUNNING, RunState.WAITING)
                .flatMap(state -> runs.numbers(state).stream())
                .filter(number -> needs(demands.of(number), lane))
                .toList();
    }

    private static boolean needs(Demand demand, String lane) {
        return demand.lanes().containsKey(lane) || demand.needs().contains(Admission.ofLane(lane));
    }

    int places(Run run, Lane lane) {
        // of a sweep its next row
        Map<String, Integer> places = (run.isSweep() ? demands.ofRow(run) : demands.of(run)).lanes();
        return places.getOrDefault(lane.name(), 0);
    }

    /** The runs that wait for places now, by the lane's name; lanes for which nobody waits are left out. */
    Map<String, List<Long>> now() {
        Map<String, List<Long>> all = new HashMap<>();
        for (Waiter waiter : runs.waitingInLanes()) {
            // it may wait for its next try or a gate, and for one of its lanes only
            demands.of(waiter.number()).lanes().keySet().stream()
                    .filter(lane -> speaksOf(waiter.waitingFor(), lane))
                    .forEach(lane ->
                            all.computeIfAbsent(lane, name -> new ArrayList<>()).add(waiter.number()));
        }
        return all;
    }

    /** Whether words speak of a lane, and not of one whose name only begins like it. */
    static boolean speaksOf(String words, String lane) {
        String named = "lane " + lane;
        for (int at = words.indexOf(named); at >= 0; at = words.indexOf(named, at + 1)) {
            int end = at + named.length();
            if (end == words.length() || !goesOn(words.charAt(end))) {
                return true;
            }
        }
        return false;
    }

    private static boolean goesOn(char c) {
        return c == '-' || Character.isLetterOrDigit(c);
    }
}
