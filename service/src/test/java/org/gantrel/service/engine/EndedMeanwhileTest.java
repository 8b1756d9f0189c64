package org.gantrel.service.engine;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import org.gantrel.core.run.RunState;
import org.gantrel.service.Await;
import org.gantrel.service.OnMovedClock;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.Runs;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("What ended while no service ran")
class EndedMeanwhileTest extends OnMovedClock {

    private static final String AT_TWO =
            "schedules: [ { name: two, when: every day at 02:00, zone: UTC, missed: { run: latest, within: 6 h } } ]\n";

    private void define(String name, String more) {
        service.task(name, "until test -e " + folder + "/go; do sleep 0.05; done", more);
    }

    private List<Run> underWay(String... jobs) {
        var runs = new ArrayList<Run>();
        for (String job : jobs) {
            runs.add(service.underway(service.start(job)));
        }
        return runs;
    }

    /** Lets all commands end while nobody looks, and comes back two hours later. */
    private void away(List<Run> commands) throws IOException {
        service.close();
        Files.writeString(folder.resolve("go"), "");
        for (Run command : commands) {
            Await.until("it ends", () -> Files.exists(service.folder(command).resolve("exit")));
        }
        clock.moveBy(Duration.ofHours(2));
        service.open();
    }

    @Test
    @DisplayName("ended as it did, though its limit or its window came to its end before anybody knew")
    void wasInTime() throws IOException {
        define("limited", "time-limit: 10 min\n");
        define("limited-over-all", "total-limit: 10 min\n");
        define("windowed", "stop-at: \"01:30\"\n");
        service.define(
                "chain: led\nteam: revenue\ntime-limit: 10 min\nsteps: [ { step: one, job: limited-over-all } ]\n");
        List<Run> runs = underWay("limited", "windowed");
        Run chain = service.start("led");
        Await.until("its step begins", () -> !service.children(chain).isEmpty());
        runs.add(service.underway(service.children(chain).get(0)));
        away(runs);
        runs.add(chain);
        for (Run each : runs) {
            Run ended = service.ended(each);
            assertThat(ended.state()).as(ended.message()).isEqualTo(RunState.SUCCEEDED);
        }
    }

    @Test
    @DisplayName("is in nobody's way: neither skips a start that was missed, nor gives up its place to it")
    void isInNobodysWay() throws IOException {
        define("skips", "while-running: skip\n" + AT_TWO);
        define("replaces", "while-running: replace\n" + AT_TWO);
        List<Run> runs = underWay("skips", "replaces");
        away(runs);
        for (Run each : runs) {
            assertThat(service.ended(each).state()).isEqualTo(RunState.SUCCEEDED);
            Await.until("the missed start is made up for", () -> ofJob(each).size() == 2);
            assertThat(ofJob(each))
                    .allSatisfy(run -> assertThat(service.ended(run).state()).isEqualTo(RunState.SUCCEEDED));
        }
    }

    private List<Run> ofJob(Run run) {
        return service.bean(Runs.class).latest(run.jobId(), false, 10);
    }
}
