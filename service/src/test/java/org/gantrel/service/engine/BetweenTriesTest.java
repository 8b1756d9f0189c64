package org.gantrel.service.engine;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.time.Duration;
import java.util.Optional;
import org.gantrel.core.run.RunState;
import org.gantrel.service.LiveService;
import org.gantrel.service.OnMovedClock;
import org.gantrel.service.hold.Hold;
import org.gantrel.service.hold.Holds;
import org.gantrel.service.run.Run;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("Between its tries a run")
class BetweenTriesTest extends OnMovedClock {

    /** Fails while the file "bad" is there, and goes on while the file "stay" is. */
    private void task(String more) throws IOException {
        Files.writeString(folder.resolve("bad"), "");
        service.task(
                "load",
                "test ! -e " + folder + "/bad || exit 7; while test -e " + folder + "/stay; do sleep 0.05; done",
                "retry: { tries: 2, wait: 10 min }\n" + more);
    }

    private Hold skipping() {
        Hold hold = Hold.wanted(Hold.Scope.JOB, "load", clock.instant(), Optional.empty(), "stocktaking", "gantrel")
                .skipping();
        return service.bean(Holds.class).lay(LiveService.SERVICE, hold);
    }

    @Test
    @DisplayName("lets others of its job go first, and is not skipped for them")
    void waitsForOthers() throws IOException {
        task("while-running: skip\n");
        Run first = service.start("load");
        waitsFor(first, "try 2 of 2");
        Files.delete(folder.resolve("bad"));
        Files.createFile(folder.resolve("stay"));
        Run second = service.start("load");
        service.underway(second);
        move(Duration.ofMinutes(10));
        waitsFor(first, "run " + second.number() + " of load to end");
        Files.delete(folder.resolve("stay"));
        assertThat(service.ended(second).state()).isEqualTo(RunState.SUCCEEDED);
        assertThat(service.ended(first).state()).isEqualTo(RunState.SUCCEEDED);
    }

    @Test
    @DisplayName("is not concerned by a hold that skips what comes due, unless its try comes due then")
    void holds() throws IOException {
        task("");
        Run spared = service.start("load");
        waitsFor(spared, "try 2 of 2");
        Hold hold = skipping();
        move(Duration.ofMinutes(5));
        waitsFor(spared, "try 2 of 2");
        service.bean(Holds.class).end(LiveService.SERVICE, hold.id());
        Files.delete(folder.resolve("bad"));
        move(Duration.ofMinutes(5));
        assertThat(service.ended(spared).state()).isEqualTo(RunState.SUCCEEDED);

        task("");
        Run caught = service.start("load");
        waitsFor(caught, "try 2 of 2");
        skipping();
        move(Duration.ofMinutes(10));
        assertThat(service.ended(caught).state()).isEqualTo(RunState.FAILED);
        assertThat(service.found(caught.number()).message())
                .isEqualTo("exit code 7; on hold: the job load, held by gantrel: stocktaking before try 2");
    }

    @Test
    @DisplayName("ends as it did last where its limit over all tries is reached first")
    void limit() throws IOException {
        service.define("lane: quay\nteam: revenue\nwidth: 1\n");
        service.task("blocks", "while test -e " + folder + "/stay; do sleep 0.05; done", "lanes: [ quay ]\n");
        task("lanes: [ quay ]\ntotal-limit: 30 min\n");
        Run run = service.start("load");
        waitsFor(run, "try 2 of 2");
        Files.createFile(folder.resolve("stay"));
        Run other = service.start("blocks");
        service.underway(other);
        move(Duration.ofMinutes(10));
        waitsFor(run, "a place in lane quay");
        move(Duration.ofMinutes(20));
        assertThat(service.ended(run).message())
                .isEqualTo("exit code 7; its limit over all tries was reached before try 2");
        Files.delete(folder.resolve("stay"));
        service.ended(other);
    }
}
