package org.gantrel.service.engine;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.Map;
import org.gantrel.core.run.RunState;
import org.gantrel.service.Await;
import org.gantrel.service.LiveService;
import org.gantrel.service.MovableClock;
import org.gantrel.service.run.Run;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

@DisplayName("A job that is changed while runs of it go")
class ChangedMeanwhileTest {

    @TempDir
    private Path folder;

    private LiveService service;

    @BeforeEach
    void open() {
        service = LiveService.fresh(folder.resolve("data"), new MovableClock(Instant.parse("2026-11-24T02:00:00Z")));
    }

    @AfterEach
    void close() {
        service.close();
    }

    /** A task that goes until there is a file of the name that its route and a word make. */
    private void load(String word, String rules) {
        service.define("task: load\nteam: revenue\nparameters: { route: { type: text, default: sound } }\n" + rules
                + "\ndoes: { command: [ /bin/sh, -c, \"until test -e " + folder + "/" + word
                + "-$R; do sleep 0.05; done\" ], environment: { R: \"${route}\" } }\n");
    }

    private void letGo(String word, String... routes) throws IOException {
        for (String route : routes) {
            Files.writeString(folder.resolve(word + "-" + route), "");
        }
    }

    private Run startFor(String route) {
        return service.start("load", Map.of("route", route));
    }

    @Test
    @DisplayName("lets none go beside them that the values which tell runs apart by now, or did then, keep apart")
    void keepsApart() throws IOException {
        load("a", "");
        Run alone = service.underway(startFor("sound"));
        load("a", "apart-by: [ route ]");
        Run same = startFor("sound");
        service.waits(same, "run %d of load with route sound to end".formatted(alone.number()));
        letGo("a", "sound");
        service.underway(startFor("far"));
        assertThat(service.ended(same).state()).isEqualTo(RunState.SUCCEEDED);
        load("b", "while-running: skip");
        Run skipped = startFor("near");
        assertThat(service.ended(skipped).state()).isEqualTo(RunState.SKIPPED);
        load("b", "apart-by: [ route ]\nwhile-running: replace");
        Run replacing = startFor("far");
        service.underway(replacing);
        letGo("b", "far");
        assertThat(service.ended(replacing).state()).isEqualTo(RunState.SUCCEEDED);
    }

    @Test
    @DisplayName("goes on as it was in a sweep that has begun, even where it has become a chain since")
    void sweepKeepsItsRevision() throws IOException {
        service.define("roster: routes\nteam: revenue\ncolumns: [ route ]\nat-once: 1\n"
                + "rows: [ { route: sound }, { route: far }, { route: near } ]\n");
        service.define("lane: quay\nteam: revenue\nwidth: 1\n");
        service.task("other", "true", "");
        load("a", "lanes: [ quay ]");
        Run sweep = service.startOver("load", "routes");
        Await.until("a row goes", () -> service.children(sweep).size() == 1);
        service.define("task: load\nteam: revenue\nparameters: { route: { type: text }, more: { type: number } }\n"
                + "does: { command: [ \"false\" ] }\n");
        letGo("a", "sound");
        Await.until("the next one goes", () -> service.children(sweep).size() == 2);
        service.define("chain: load\nteam: revenue\nsteps: [ { step: one, job: other } ]\n");
        letGo("a", "far", "near");
        assertThat(service.ended(sweep).message()).isEqualTo("3 rows went well");
        assertThat(service.children(sweep)).allSatisfy(row -> {
            assertThat(row.revision()).isEqualTo(sweep.revision());
            assertThat(row.kind()).isEqualTo("task");
        });
        assertThat(service.ended(service.start("load")).kind()).isEqualTo("chain");
    }
}
