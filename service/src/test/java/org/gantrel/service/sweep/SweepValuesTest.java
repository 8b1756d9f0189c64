package org.gantrel.service.sweep;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.LongStream;
import org.gantrel.core.run.RunState;
import org.gantrel.service.Await;
import org.gantrel.service.LiveService;
import org.gantrel.service.OnMovedClock;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.Runs;
import org.gantrel.service.run.Starts;
import org.gantrel.service.run.SweepRequest;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

/** Values of a sweep come from its start, from its rows and from defaults; what speaks of them has to know which. */
@DisplayName("The values of a sweep")
class SweepValuesTest extends OnMovedClock {

    private static final String DAY = "{ type: date, default: \"${planned.date - days(1)}\" }";

    @BeforeEach
    void define() {
        service.define("roster: routes\nteam: revenue\ncolumns: [ route ]\nat-once: 3\n"
                + "rows: [ { route: sound }, { route: far }, { route: near } ]\n");
    }

    private void task(String parameters, String more) {
        service.define("task: load\nteam: revenue\nparameters: " + parameters + "\ndoes: { shell: \"true\" }\n" + more);
    }

    private List<Run> rows(Run sweep, int many) {
        Await.until("its rows are there", () -> service.children(sweep).size() == many);
        return service.children(sweep);
    }

    @Test
    @DisplayName("a gate that speaks of what its rows give is waited for by each row, over a restart too")
    void rowsHaveGates() throws IOException {
        Path tides = Files.createDirectory(folder.resolve("tides"));
        Files.writeString(tides.resolve("sound.csv"), "x");
        task(
                "{ route: { type: text } }",
                "gates: [ { file: \"" + tides
                        + "/${route}.csv\" } ]\ngate-patience: { look-every: 1 min, for: 1 h }\n");
        Run sweep = service.startOver("load", "routes");
        List<Run> rows = rows(sweep, 3);
        assertThat(service.ended(rows.get(0)).state()).isEqualTo(RunState.SUCCEEDED);
        waitsFor(rows.get(1), "the file " + tides + "/far.csv: it is not there");
        service.restart();
        waitsFor(rows.get(1), "the file " + tides + "/far.csv: it is not there");
        Files.writeString(tides.resolve("far.csv"), "x");
        move(Duration.ofMinutes(1));
        assertThat(service.ended(rows.get(1)).state()).isEqualTo(RunState.SUCCEEDED);
        waitsFor(rows.get(2), "the file " + tides + "/near.csv: it is not there");
        move(Duration.ofMinutes(59));
        assertThat(service.ended(rows.get(2)).state()).isEqualTo(RunState.SKIPPED);
        Run ended = service.ended(sweep);
        assertThat(ended.state()).isEqualTo(RunState.SUCCEEDED);
        assertThat(ended.message()).isEqualTo("2 rows went well, 1 left out");
    }

    @Test
    @DisplayName("one that does not is waited for by the sweep, with what it was given and the defaults")
    void sweepsHaveGates() throws IOException {
        Path tides = Files.createDirectory(folder.resolve("tides"));
        task("{ route: { type: text }, day: " + DAY + " }", "gates: [ { file: \"" + tides + "/${day}.csv\" } ]\n");
        Run sweep = service.startOver("load", "routes");
        waitsFor(sweep, "the file " + tides + "/2026-11-22.csv: it is not there");
        Files.writeString(tides.resolve("2026-11-22.csv"), "x");
        move(Duration.ofMinutes(1));
        assertThat(service.ended(sweep).message()).isEqualTo("3 rows went well");
    }

    @Test
    @DisplayName("rows that wait in vain share one patience, and do not wait where the starter chose not to")
    void onePatience() {
        service.define("roster: routes\nteam: revenue\ncolumns: [ route ]\nat-once: 1\n"
                + "rows: [ { route: sound }, { route: far }, { route: near } ]\n");
        task(
                "{ route: { type: text } }",
                "gates: [ { when: \"route == 'none'\" } ]\ngate-patience: { look-every: 1 min, for: 1 h, then: fail }\n");
        Run sweep = service.startOver("load", "routes");
        waitsFor(rows(sweep, 1).get(0), "route == 'none': it is false");
        move(Duration.ofHours(1));
        assertThat(service.ended(sweep).message()).startsWith("3 of 3 rows failed: row 1 (sound)");
        Run skipping = service.bean(Starts.class)
                .start(
                        LiveService.SERVICE,
                        "load",
                        Map.of(),
                        Optional.of(SweepRequest.all("routes")),
                        true,
                        Optional.empty());
        assertThat(service.ended(skipping).message()).isEqualTo("3 rows went well");
    }

    @Test
    @DisplayName(
            "what a schedule gives may be an expression; a start that was missed knows what it came to, and is repeated")
    void schedulesGive() throws IOException {
        task(
                "{ day: { type: date }, label: { type: text, default: \"L${day}\" }, route: { type: text, default: x } }",
                """
                schedules:
                  - { name: early, when: every day at 01:20, zone: UTC, with: { day: "${planned.date - days(3)}" } }
                  - { name: nightly, when: every day at 02:30, zone: UTC, over: routes, with: { day: "${planned.date - days(2)}" } }
                """);
        service.close();
        clock.moveBy(Duration.ofMinutes(30));
        service.open();
        Run missed = latest("early");
        assertThat(missed.state()).isEqualTo(RunState.MISSED);
        assertThat(missed.parameters()).containsEntry("day", "2026-11-20");
        assertThat(service.ended(service.bean(Starts.class).repeat(LiveService.SERVICE, missed.number()))
                        .parameters())
                .containsEntry("label", "L2026-11-20");
        move(Duration.ofHours(1));
        Run sweep = service.ended(latest("nightly"));
        assertThat(sweep.message()).isEqualTo("3 rows went well");
        assertThat(sweep.parameters()).containsEntry("day", "2026-11-21");
        assertThat(service.children(sweep).get(2).parameters())
                .isEqualTo(Map.of("day", "2026-11-21", "label", "L2026-11-21", "route", "near"));
    }

    private Run latest(String schedule) {
        var found = new ArrayList<Run>();
        Await.until(schedule + " has a run", () -> {
            service.bean(Runs.class).all(LongStream.range(1000, 1020).boxed().toList()).stream()
                    .filter(run -> run.causeRef().equals(schedule))
                    .forEach(found::add);
            return !found.isEmpty();
        });
        return found.get(0);
    }
}
