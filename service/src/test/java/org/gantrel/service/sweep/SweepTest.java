package org.gantrel.service.sweep;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.roster.Roster.AfterFailure;
import org.gantrel.core.run.RunState;
import org.gantrel.core.sweep.SweepCourse;
import org.gantrel.service.Await;
import org.gantrel.service.TestSettings;
import org.gantrel.service.imports.Imports;
import org.gantrel.service.imports.Imports.DefinitionFile;
import org.gantrel.service.imports.Imports.ImportBody;
import org.gantrel.service.job.RunFacts;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.Runs;
import org.gantrel.service.run.Starts;
import org.gantrel.service.run.SweepRequest;
import org.gantrel.service.start.Serve;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.Teams;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.springframework.context.ConfigurableApplicationContext;

@DisplayName("A sweep")
class SweepTest {

    private static final Caller SERVICE = Caller.service();

    @TempDir
    private static Path folder;

    private static ConfigurableApplicationContext service;

    @BeforeAll
    static void start() throws IOException {
        service = Serve.start(TestSettings.withSweepRows(TestSettings.in(folder, 8), 150), Clock.systemUTC());
        service.getBean(Teams.class).create(SERVICE, "revenue", "");
        define(
                """
                task: settle
                team: revenue
                parameters:
                  route: { type: choice, of: [ skarholm, sound, outer ] }
                  cents: { type: number, default: 0 }
                  key: { type: secret, required: no }
                does: { files: list, under: %s, matching: "${route}*.csv" }
                ---
                task: fail-sound
                team: revenue
                parameters: { route: { type: text } }
                does: { checks: [ { name: "${route}", file: "%s/${route}.csv" } ] }
                """
                        .formatted(folder, folder));
        Files.writeString(folder.resolve("skarholm.csv"), "x");
        Files.writeString(folder.resolve("outer.csv"), "x");
    }

    @AfterAll
    static void end() {
        service.close();
    }

    private static void define(String text) {
        service.getBean(Imports.class).bringIn(SERVICE, false, new ImportBody(List.of(new DefinitionFile("t", text))));
    }

    private static void roster(String name, String rest) {
        define("roster: " + name + "\nteam: revenue\n" + rest);
    }

    private static Run sweep(String job, SweepRequest over) {
        Run run = service.getBean(Starts.class).start(SERVICE, job, Map.of(), Optional.of(over), Optional.empty());
        Await.until("it ended", () -> found(run.number()).state().isEnded());
        return found(run.number());
    }

    private static Run found(long number) {
        return service.getBean(Runs.class).find(number).orElseThrow();
    }

    private static List<String> rows(Run run) {
        return service.getBean(Sweeps.class).page(run.number(), 0, null, 100).stream()
                .map(row -> row.values().values().iterator().next() + " "
                        + row.state().word())
                .toList();
    }

    @Test
    @DisplayName("runs the job once for each included row, with one overall outcome, and again for those that failed")
    void runsEachRow() throws IOException {
        roster(
                "routes",
                """
                columns: [ route ]
                rows: [ { route: skarholm }, { route: sound }, { route: outer }, { route: far, include: no }, { route: moon } ]
                """);
        Run run = sweep("fail-sound", SweepRequest.all("routes"));
        assertThat(run.state()).isEqualTo(RunState.FAILED);
        assertThat(run.message()).isEqualTo("2 of 4 rows failed, 1 left out: row 2 (sound), row 5 (moon)");
        assertThat(rows(run))
                .containsExactly(
                        "skarholm succeeded", "sound failed", "outer succeeded", "far left-out", "moon failed");
        assertThat(service.getBean(RunFacts.class).last(run.jobId()))
                .map(RunFacts.LastRun::number)
                .hasValue(run.number());
        Files.writeString(folder.resolve("sound.csv"), "x");
        Run again =
                sweep("fail-sound", new SweepRequest("routes", SweepRequest.FAILED, Optional.of(2), Optional.empty()));
        assertThat(rows(again)).containsExactly("sound succeeded", "moon failed");
        Files.delete(folder.resolve("sound.csv"));
        Run chosen = sweep("fail-sound", new SweepRequest("routes", "1,3-4", Optional.empty(), Optional.empty()));
        assertThat(rows(chosen)).containsExactly("skarholm succeeded", "outer succeeded", "far left-out");
        assertThat(chosen.message()).isEqualTo("2 rows went well, 1 left out");
        Run stopped = sweep(
                "fail-sound",
                new SweepRequest("routes", SweepRequest.ALL, Optional.of(1), Optional.of(AfterFailure.STOP)));
        assertThat(rows(stopped)).contains("sound failed", "outer not-reached", "moon not-reached");
        Run wrong = sweep("settle", SweepRequest.all("routes"));
        assertThat(wrong.message()).startsWith("1 of 4 rows failed, 1 left out: row 5 (moon)");
    }

    @Test
    @DisplayName("takes a record once, until its memory ends, it is forgotten, or a chosen column changes")
    void takesARecordOnce() throws IOException {
        Path file = Files.writeString(folder.resolve("list.csv"), "route,cents\nskarholm,1\nouter,2\n");
        roster(
                "listed",
                "from: { csv: " + file + " }\nkey: [ route ]\nhandled: { once: ever, again-when: [ cents ] }\n");
        assertThat(rows(sweep("settle", SweepRequest.all("listed"))))
                .containsExactly("skarholm succeeded", "outer succeeded");
        Files.writeString(file, "route,cents\nskarholm,1\nouter,3\nsound,9\n");
        Run second = sweep("settle", SweepRequest.all("listed"));
        assertThat(rows(second)).containsExactly("skarholm left-out", "outer succeeded", "sound succeeded");
        assertThat(second.message()).isEqualTo("2 rows went well, 1 left out");
        Sweeps sweeps = service.getBean(Sweeps.class);
        long roster = sweeps.of(second.number()).rosterId();
        assertThat(sweeps.handled(roster, 0, 10))
                .extracting(Handled::recordKey)
                .containsExactly("skarholm", "outer", "sound");
        assertThat(sweeps.forget(roster, "skarholm")).isEqualTo(1);
        assertThat(rows(sweep("settle", SweepRequest.all("listed")))).contains("skarholm succeeded", "outer left-out");
    }

    @ParameterizedTest(name = "of {1} says {2}")
    @CsvSource(
            delimiter = '|',
            value = {
                "ragged  | from: { csv: FOLDER/bad.csv }       | line 3, column 1: rows: 1 value for 2 columns",
                "missing | from: { csv: FOLDER/none.csv }      | there is no file",
                "strange | from: { json: FOLDER/strange.json } | column: 'rute' is no parameter of settle; there are route, cents, key; did you mean 'route'?",
                "secret  | from: { json: FOLDER/secret.json }  | column: 'key' is a secret, which rows cannot hold",
                "nojson  | from: { json: FOLDER/bad.csv }      | is no JSON",
                "huge    | from: { csv: FOLDER/huge.csv }      | rows: the roster gives more than 150 rows, which is the limit",
                "wide    | from: { csv: FOLDER/wide.csv }      | is no CSV: a row has more than 5000000 bytes",
                "objects | from: { json: FOLDER/wide.json }    | is no JSON: a row has more than 5000000 bytes",
                "many    | from: { json: FOLDER/many.json }    | a row has more than 100000 values",
                "never   | from: { output: a.csv, of: settle-x } | the job settle-x has not run well yet"
            })
    void saysWhatIsWrongWithItsRows(String name, String source, String message) throws IOException {
        Files.writeString(folder.resolve("bad.csv"), "route,cents\nsound,1\nouter\n");
        Files.writeString(folder.resolve("huge.csv"), "route\n" + "sound\n".repeat(10_000));
        Files.writeString(folder.resolve("wide.csv"), "route\nsound\n" + "s".repeat(6_000_000));
        Files.writeString(folder.resolve("wide.json"), "[{\"a\": \"" + "s".repeat(6_000_000) + "\"}]");
        Files.writeString(folder.resolve("many.json"), "[{" + "\"a\": 1,".repeat(100_000) + "\"b\": 1}]");
        Files.writeString(folder.resolve("strange.json"), "[{\"rute\": \"sound\"}]");
        Files.writeString(folder.resolve("secret.json"), "[{\"route\": \"sound\", \"key\": \"hush\"}]");
        define("task: settle-x\nteam: revenue\ndoes: { command: [ \"true\" ] }\n");
        roster(name, source.replace("FOLDER", folder.toString()) + "\n");
        Run run = sweep("settle", SweepRequest.all(name));
        assertThat(run.state()).isEqualTo(RunState.FAILED);
        assertThat(run.message()).startsWith("its rows could not be drawn:").contains(message);
        assertThat(rows(run)).as("what was drawn before is taken back").isEmpty();
    }

    @Test
    @DisplayName("over no known roster, or of no known rows, is refused before anything starts")
    void isRefused() {
        Starts starts = service.getBean(Starts.class);
        assertThatThrownBy(() -> starts.start(
                        SERVICE, "settle", Map.of(), Optional.of(SweepRequest.all("routs")), Optional.empty()))
                .isInstanceOf(InvalidException.class)
                .hasMessageContaining("there is no roster 'routs'");
        roster("few", "columns: [ route ]\nrows: [ { route: sound } ]\n");
        assertThatThrownBy(() -> starts.start(
                        SERVICE,
                        "settle",
                        Map.of("rout", "x"),
                        Optional.of(new SweepRequest("few", "some", Optional.empty(), Optional.empty())),
                        Optional.empty()))
                .hasMessageContaining("there is no such parameter; did you mean 'route'?");
        assertThatThrownBy(() -> starts.start(
                        SERVICE,
                        "settle",
                        Map.of(),
                        Optional.of(new SweepRequest("few", "some", Optional.empty(), Optional.empty())),
                        Optional.empty()))
                .hasMessageContaining("all, failed, or places such as 1,4-7 would be right");
    }

    @Test
    @DisplayName("draws from the files of a folder, and goes through many rows")
    void goesThroughMany() throws IOException {
        Path many = Files.createDirectory(folder.resolve("many"));
        for (int i = 0; i < 120; i++) {
            Files.writeString(many.resolve("f" + i + ".csv"), "");
        }
        define(
                """
                task: look
                team: revenue
                parameters: { file: { type: path } }
                does: { checks: [ { name: there, file: "${file}" } ] }
                """);
        roster("files", "from: { files: " + many + ", matching: \"*.csv\" }\nat-once: 8\n");
        Run run = sweep("look", SweepRequest.all("files"));
        assertThat(run.message()).isEqualTo("120 rows went well");
        assertThat(service.getBean(Sweeps.class).counts(run.number()))
                .isEqualTo(new SweepCourse.Counts(0, 0, 120, 0, 0, 0, 0));
    }
}
