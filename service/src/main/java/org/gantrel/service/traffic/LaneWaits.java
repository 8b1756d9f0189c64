package org.gantrel.service.traffic;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.gantrel.core.lane.Lane;
import org.gantrel.core.run.RunState;
import org.gantrel.service.lane.Lanes;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.Runs;
import org.springframework.stereotype.Component;

/** Which runs take places in lanes, and which wait for them. */
@Component
class LaneWaits {

    private final Runs runs;
    private final Demands demands;
    private final Lanes lanes;

    LaneWaits(Runs runs, Demands demands, Lanes lanes) {
        this.runs = runs;
        this.demands = demands;
        this.lanes = lanes;
    }

    /** Those of a state that take places in lanes: others are not read, however many there are. */
    List<Run> inLanes(RunState state) {
        return runs.all(runs.numbers(state).stream()
                .filter(number -> !demands.of(number).lanes().isEmpty())
                .toList());
    }

    /** Whether it is this lane that a run waits for, and not its next try, a gate or something else. */
    boolean waitsFor(Run run, Lane lane) {
        return places(run, lane) > 0 && run.waitingFor().contains("lane " + lane.name());
    }

    int places(Run run, Lane lane) {
        return demands.of(run).lanes().getOrDefault(lane.name(), 0);
    }

    /** The runs that wait for places now, by the lane's name; lanes for which nobody waits are left out. */
    Map<String, List<Long>> now() {
        List<Run> waiting = inLanes(RunState.WAITING);
        Map<String, List<Long>> all = new HashMap<>();
        if (!waiting.isEmpty()) {
            lanes.all().forEach((name, state) -> {
                List<Long> numbers = waiting.stream()
                        .filter(run -> waitsFor(run, state.lane()))
                        .map(Run::number)
                        .toList();
                if (!numbers.isEmpty()) {
                    all.put(name, numbers);
                }
            });
        }
        return all;
    }
}
