package org.gantrel.service.metrics;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.regex.Pattern;
import org.gantrel.core.run.RunState;
import org.gantrel.service.Await;
import org.gantrel.service.LiveService;
import org.gantrel.service.aside.SetAside;
import org.gantrel.service.engine.Engine;
import org.gantrel.service.engine.EnginePulse;
import org.gantrel.service.journal.Journal;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.RunValues;
import org.gantrel.service.run.Runs;
import org.gantrel.service.run.Wishes;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

@DisplayName("The metrics")
class MetricsTest {

    private static final Pattern RUNS = Pattern.compile("gantrel_runs\\{state=\"([a-z-]+)\"} ([0-9.]+)");

    @TempDir
    Path folder;

    @Test
    @DisplayName("have each run once, whenever they were first asked for and whatever is taken up again")
    void haveEachRunOnce() throws Exception {
        try (var service = LiveService.fresh(folder, Clock.systemUTC())) {
            service.task("good", "true", "");
            service.task("needs", "test -e " + folder + "/mended", "");
            service.define("chain: both\nteam: revenue\nsteps:\n  - { step: one, job: good }\n"
                    + "  - { step: two, job: needs }\n");
            List<Metrics> asked = new ArrayList<>();
            for (int i = 0; i < 12; i++) {
                service.start("good");
                service.start("both");
                asked.add(metrics(service));
                Run next = service.ended(service.start("good"));
                assertThat(next.state()).isEqualTo(RunState.SUCCEEDED);
                counts(asked.get(i));
            }
            agree(asked, service);
            Run broken = service.ended(service.start("both"));
            assertThat(broken.state()).isEqualTo(RunState.FAILED);
            agree(asked, service);
            Files.writeString(folder.resolve("mended"), "");
            service.bean(Wishes.class)
                    .want(
                            broken.number(),
                            Wishes.Kind.GO_ON,
                            "",
                            service.bean(RunValues.class).sealAll(Map.of()),
                            "mara",
                            Instant.now());
            Await.until("it went well", () -> service.found(broken.number()).state() == RunState.SUCCEEDED);
            agree(asked, service);
            asked.forEach(Metrics::destroy);
        }
    }

    private static Metrics metrics(LiveService service) {
        return new Metrics(
                service.bean(Runs.class),
                service.bean(Engine.class),
                service.bean(EnginePulse.class),
                service.bean(SetAside.class),
                service.bean(Journal.class));
    }

    private static void agree(List<Metrics> asked, LiveService service) {
        Await.until(
                "nothing waits or is under way",
                () -> service.bean(Runs.class).count(RunState.WAITING) == 0
                        && service.bean(Runs.class).count(RunState.RUNNING) == 0);
        Map<String, Long> all = new TreeMap<>();
        for (RunState state : RunState.values()) {
            all.put(state.word(), service.bean(Runs.class).count(state));
        }
        for (Metrics each : asked) {
            Await.until("as many runs as there are: " + all, () -> counts(each).equals(all));
        }
    }

    private static Map<String, Long> counts(Metrics metrics) {
        Map<String, Long> counts = new TreeMap<>();
        RUNS.matcher(metrics.metrics(LiveService.SERVICE))
                .results()
                .forEach(found -> counts.put(found.group(1), Math.round(Double.parseDouble(found.group(2)))));
        return counts;
    }
}
