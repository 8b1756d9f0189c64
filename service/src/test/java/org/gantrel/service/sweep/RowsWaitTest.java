package org.gantrel.service.sweep;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.run.RunState;
import org.gantrel.service.Await;
import org.gantrel.service.LiveService;
import org.gantrel.service.OnMovedClock;
import org.gantrel.service.hold.Hold;
import org.gantrel.service.hold.Holds;
import org.gantrel.service.lane.Lanes;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.RunWaits;
import org.gantrel.service.time.Waker;
import org.gantrel.service.traffic.RowWaits;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("The next rows of a sweep under way")
class RowsWaitTest extends OnMovedClock {

    @BeforeEach
    void define() {
        service.define("lane: quay\nteam: revenue\nwidth: 1\n");
        service.define("roster: routes\nteam: revenue\ncolumns: [ route ]\nat-once: 3\n"
                + "rows: [ { route: sound }, { route: far }, { route: near } ]\n");
        service.define("task: load\nteam: revenue\nparameters: { route: { type: text } }\nlanes: [ quay ]\n"
                + "does: { command: [ /bin/sh, -c, \"until test -e " + folder
                + "/$R; do sleep 0.05; done\" ], environment: { R: \"${route}\" } }\n");
    }

    private void letGo(String row) throws IOException {
        Files.writeString(folder.resolve(row), "");
    }

    private void rowsWaitFor(Run sweep, String what) {
        Await.until("its rows wait for " + what, () -> service.bean(RowWaits.class)
                .of(sweep.number())
                .filter(row -> row.by().text().equals(what))
                .isPresent());
    }

    private void begin(Run sweep, int rows) {
        Await.until("row " + rows + " begins", () -> service.children(sweep).size() == rows);
    }

    private Hold lay(Hold.Scope scope, String name, boolean skips) {
        Hold hold = Hold.wanted(scope, name, clock.instant(), Optional.empty(), "new pumps", "gantrel");
        return service.bean(Holds.class).lay(LiveService.SERVICE, skips ? hold.skipping() : hold);
    }

    @Test
    @DisplayName("say for what they wait, and what took long is kept with the sweep")
    void sayWhy() throws IOException {
        Run sweep = service.startOver("load", "routes");
        begin(sweep, 1);
        rowsWaitFor(sweep, "a place in lane quay: 1 of 1 taken");
        service.bean(Lanes.class).shut(LiveService.SERVICE, "quay", "stocktaking");
        letGo("sound");
        rowsWaitFor(sweep, "lane quay to open: closed by gantrel: stocktaking");
        clock.moveBy(Duration.ofMinutes(5));
        letGo("far");
        letGo("near");
        service.bean(Lanes.class).open(LiveService.SERVICE, "quay");
        assertThat(service.ended(sweep).state()).isEqualTo(RunState.SUCCEEDED);
        Await.until(
                "none waits",
                () -> service.bean(RowWaits.class).of(sweep.number()).isEmpty());
        assertThat(service.bean(RunWaits.class).of(sweep.number()))
                .anySatisfy(wait -> assertThat(wait.what()).startsWith("lane quay to open"));
    }

    @Test
    @DisplayName("are kept by a hold of their job and of their lane, also by one that skips what comes due")
    void holds() throws IOException {
        Run sweep = service.startOver("load", "routes");
        begin(sweep, 1);
        Hold lane = lay(Hold.Scope.LANE, "quay", false);
        letGo("sound");
        rowsWaitFor(sweep, "the end of a hold of the lane quay, held by gantrel: new pumps");
        Hold job = lay(Hold.Scope.JOB, "load", true);
        service.bean(Holds.class).end(LiveService.SERVICE, lane.id());
        rowsWaitFor(sweep, "the end of a hold of the job load, held by gantrel: new pumps");
        assertThat(service.children(sweep)).hasSize(1);
        letGo("far");
        letGo("near");
        service.bean(Holds.class).end(LiveService.SERVICE, job.id());
        service.bean(Waker.class).wake();
        assertThat(service.ended(sweep).message()).isEqualTo("3 rows went well");
    }

    @Test
    @DisplayName("say who has their values, and leave the places to others meanwhile")
    void leavePlacesWhileTheirValuesAreInUse() throws IOException {
        service.bean(Lanes.class).widen(LiveService.SERVICE, "quay", 2);
        service.define("roster: again\nteam: revenue\ncolumns: [ route ]\nat-once: 3\nrows: [ { route: sound } ]\n");
        service.define("task: load\nteam: revenue\nparameters: { route: { type: text } }\nlanes: [ quay ]\n"
                + "apart-by: [ route ]\ndoes: { command: [ /bin/sh, -c, \"until test -e " + folder
                + "/$R; do sleep 0.05; done\" ], environment: { R: \"${route}\" } }\n");
        service.define(
                "task: sweep-quay\nteam: revenue\nlanes: [ quay ]\npriority: 1\ndoes: { command: [ sleep, 0.3 ] }\n");
        Run first = service.start("load", Map.of("route", "sound"));
        service.underway(first);
        Run sweep = service.startOver("load", "again");
        rowsWaitFor(sweep, "run %d of load with route sound to end".formatted(first.number()));
        for (Run each : List.of(service.start("sweep-quay"), service.start("sweep-quay"))) {
            assertThat(service.ended(each).state()).isEqualTo(RunState.SUCCEEDED);
        }
        rowsWaitFor(sweep, "run %d of load with route sound to end".formatted(first.number()));
        clock.moveBy(Duration.ofMinutes(5));
        letGo("sound");
        assertThat(service.ended(sweep).state()).isEqualTo(RunState.SUCCEEDED);
        assertThat(service.bean(RunWaits.class).of(sweep.number()))
                .as("one wait, whatever else ended meanwhile")
                .singleElement()
                .satisfies(wait -> assertThat(wait.what()).endsWith("of load with route sound to end"));
    }
}
