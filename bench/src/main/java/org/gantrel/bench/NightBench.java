package org.gantrel.bench;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import org.gantrel.core.forecast.Coming;
import org.gantrel.core.forecast.Simulation;
import org.gantrel.core.run.Admission;
import org.gantrel.core.run.Admission.Demand;
import org.gantrel.core.run.Admission.LaneNow;
import org.gantrel.core.run.Admission.Snapshot;
import org.gantrel.core.run.Admission.WaitingRun;
import org.gantrel.core.run.Crowd;
import org.gantrel.core.run.Overlap;

/** How long a night of many runs through many lanes takes to play, and one decision over all that wait. */
final class NightBench {

    private static final Instant NIGHT = Instant.parse("2026-11-24T22:00:00Z");
    private static final int RUNS = 10_000;
    private static final int LANES = 50;
    private static final int ROUNDS = 7;

    private NightBench() {}

    static void run() {
        var random = new Random(12);
        Map<String, LaneNow> lanes = new HashMap<>();
        for (int i = 0; i < LANES; i++) {
            lanes.put("lane-" + i, new LaneNow(1 + i % 4, Optional.empty()));
        }
        var coming = new ArrayList<Coming>();
        var waiting = new ArrayList<WaitingRun>();
        for (int i = 0; i < RUNS; i++) {
            var demand =
                    new Demand(Map.of("lane-" + i % LANES, 1), Crowd.of("job-" + i % 3_000), Overlap.USUAL, Set.of());
            String team = "team-" + random.nextInt(5);
            Instant at = NIGHT.plusSeconds(random.nextInt(8 * 3_600));
            coming.add(
                    Coming.single("job-" + i % 3_000, team, at, demand, Duration.ofSeconds(random.nextInt(30, 240))));
            waiting.add(new WaitingRun(i, team, at, at, false, 5, demand, Optional.empty()));
        }
        var plays = new ArrayList<Double>();
        var decisions = new ArrayList<Double>();
        for (int round = 0; round < ROUNDS; round++) {
            plays.add(timed(() -> Simulation.play(64, lanes, coming, NIGHT, NIGHT.plus(Duration.ofDays(2)))));
            decisions.add(timed(() -> new Admission(64)
                    .decide(new Snapshot(NIGHT.plus(Duration.ofHours(9)), List.of(), waiting, List.of(), lanes))));
        }
        double play = Bench.percentile(plays, 50);
        double decision = Bench.percentile(decisions, 50);
        Bench.line(
                "forecast of 10,000 runs through 50 lanes, median",
                Bench.millis(play),
                "the promise 1000.0 ms",
                play / 1e9,
                "under 1 s");
        Bench.line(
                "a decision over 10,000 waiting runs, median",
                Bench.millis(decision),
                "that forecast " + Bench.millis(play),
                decision / play,
                "");
    }

    private static double timed(Runnable work) {
        long begun = System.nanoTime();
        work.run();
        return System.nanoTime() - begun;
    }
}
