package org.gantrel.service.chain;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.run.RunState;
import org.gantrel.service.Await;
import org.gantrel.service.LiveService;
import org.gantrel.service.OnMovedClock;
import org.gantrel.service.hold.Hold;
import org.gantrel.service.hold.Holds;
import org.gantrel.service.run.Run;
import org.gantrel.service.time.Waker;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("A chain that somebody takes up again after its end")
class TakenUpTest extends OnMovedClock {

    private Path bad;
    private Path stay;

    @BeforeEach
    void define() throws IOException {
        bad = Files.createFile(folder.resolve("bad"));
        stay = folder.resolve("stay");
        service.task("load", "test ! -e " + bad + " && while test -e " + stay + "; do sleep 0.05; done", "");
    }

    private Run failed(String more) throws IOException {
        service.define("chain: close\nteam: revenue\n" + more + "steps: [ { step: one, job: load } ]\n");
        Run run = service.ended(service.start("close"));
        assertThat(run.state()).isEqualTo(RunState.FAILED);
        Files.delete(bad);
        return run;
    }

    private void goOn(Run run) {
        service.bean(ChainApi.class)
                .goOn(LiveService.SERVICE, run.number(), new ChainApi.GoOnBody(null, Map.of(), "mended"));
    }

    private void endsWell(Run run) {
        Await.until("it goes on and succeeds", () -> service.found(run.number()).state() == RunState.SUCCEEDED);
    }

    @Test
    @DisplayName("is kept by a hold, and not skipped: nobody would see any more that it had failed")
    void isKeptByAHold() throws IOException {
        Run run = failed("");
        Hold hold = service.bean(Holds.class)
                .lay(
                        LiveService.SERVICE,
                        Hold.wanted(Hold.Scope.JOB, "close", clock.instant(), Optional.empty(), "audit", "gantrel")
                                .skipping());
        goOn(run);
        waitsFor(run, "the end of a hold");
        service.bean(Holds.class).end(LiveService.SERVICE, hold.id());
        service.bean(Waker.class).wake();
        endsWell(run);
    }

    @Test
    @DisplayName("has passed its gates, whether they would hold now or not")
    void hasPassedItsGates() throws IOException {
        Path gate = Files.createFile(folder.resolve("gate"));
        Run run = failed("gates: [ { file: " + gate + " } ]\n");
        Files.delete(gate);
        move(Duration.ofHours(9));
        goOn(run);
        endsWell(run);
    }

    @Test
    @DisplayName("goes on though the window is over that it was planned in, to the end of the next")
    void goesOnToTheNextWindowsEnd() throws IOException {
        Run run = failed("stop-at: \"01:30\"\n");
        Files.createFile(stay);
        move(Duration.ofHours(9));
        goOn(run);
        Await.until("its step begins", () -> service.children(run).size() == 2);
        move(Duration.ofHours(15));
        assertThat(service.found(run.number()).state()).isEqualTo(RunState.RUNNING);
        move(Duration.ofHours(1));
        Await.until(
                "its window ends it", () -> service.found(run.number()).state().isEnded());
        assertThat(service.found(run.number()).state()).isEqualTo(RunState.TIMED_OUT);
        assertThat(service.found(run.number()).message()).startsWith("stopped at the end of its window");
    }
}
