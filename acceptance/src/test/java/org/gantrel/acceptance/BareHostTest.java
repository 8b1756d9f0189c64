package org.gantrel.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.condition.EnabledIf;
import tools.jackson.databind.JsonNode;

/** As a service is started in a container: nobody has set a locale, and it is the first process where that can be had. */
@DisplayName("On a host without a locale, as its first process")
class BareHostTest {

    private static final List<String> BARE = List.of("env", "-u", "LANG", "-u", "LC_CTYPE", "LC_ALL=POSIX");
    private static final List<String> APART = List.of("unshare", "--pid", "--fork", "--mount-proc", "--kill-child");
    private static final String PORT = "Skarhølm 港 Ås";

    private static Service service;
    private static Http admin;
    private static Work work;

    /** Whether processes can have a place of their own, where the service is the first. */
    static boolean isPossible() {
        var line = new ArrayList<>(APART);
        line.add("true");
        try {
            return new ProcessBuilder(line).redirectErrorStream(true).start().waitFor() == 0;
        } catch (IOException e) {
            return false;
        } catch (InterruptedException e) {
            throw new AssertionError(e);
        }
    }

    @BeforeAll
    static void open() throws IOException {
        var prefix = new ArrayList<>(BARE);
        if (isPossible()) {
            prefix.addAll(0, APART);
        }
        service = Service.under(prefix);
        admin = Work.settle(service);
        work = new Work();
    }

    @AfterAll
    static void shut() {
        service.close();
    }

    private static JsonNode run(String job, Map<String, String> values) {
        return service.ended(admin, admin.start(job, values));
    }

    private static String log(JsonNode run) {
        return admin.get("/api/v1/runs/" + run.path("number").asInt() + "/log").text();
    }

    /** @param names as a shell reads them */
    private static void write(Path folder, String names) {
        Shell.Result made = Shell.run(
                Map.of(),
                "",
                "/bin/sh",
                "-c",
                "cd '%s' && for i in %s; do echo $i > $i.csv; done".formatted(folder, names));
        assertThat(made.code()).as(made.err()).isZero();
    }

    @Test
    @DisplayName("values, folders and outputs keep every letter, and jobs find the locale that was there")
    void keepsLetters() throws Exception {
        Path folder = Files.createDirectory(work.folder().resolve("plan-ø"));
        admin.bringIn(
                        """
                        task: say
                        team: revenue
                        parameters: { port: { type: text } }
                        does:
                          command: [ /bin/sh, -c, 'echo "$1, $AT, $LC_ALL"; echo 7 > "tide $1.csv"', sh, "${port}" ]
                          in: %s
                          environment: { AT: "${port}" }
                        outputs: [ { file: "*.csv" } ]
                        """
                                .formatted(folder))
                .expect(200);
        JsonNode run = run("say", Map.of("port", PORT));
        assertThat(run.path("state").asString()).as(run.toString()).isEqualTo("succeeded");
        assertThat(log(run)).isEqualTo("%s, %s, POSIX\n".formatted(PORT, PORT));
        assertThat(Files.readString(folder.resolve("tide " + PORT + ".csv"))).isEqualTo("7\n");
        var line = new ArrayList<>(List.of("/usr/bin/env"));
        line.addAll(BARE.subList(1, BARE.size()));
        line.addAll(List.of(
                Shell.ROOT + "/bin/gantrel", "job", "start", "say", "-p", "port=" + PORT, "--wait", "--follow"));
        Shell.Result started = Shell.run(
                Map.of("GANTREL_URL", service.url(), "GANTREL_TOKEN", admin.token()), "", line.toArray(String[]::new));
        assertThat(started.code()).as(started.err()).isZero();
        assertThat(started.err()).contains(PORT + ", " + PORT);
    }

    @Test
    @DisplayName("a file whose name is no UTF-8 keeps none of the others from being worked on, and is spoken of")
    void namesThatAreNoText() throws Exception {
        Path folder = Files.createDirectory(work.folder().resolve("drop"));
        write(folder, "a \"$(printf 'b\\370d')\" c");
        admin.bringIn(work.task("left", "\"true\"", "outputs: [ { file: \"drop/*.csv\" } ]"))
                .expect(200);
        JsonNode left = run("left", Map.of());
        assertThat(left.path("state").asString()).isEqualTo("warned");
        assertThat(left.path("message").asString()).contains("drop/b\uFFFDd.csv is not written in UTF-8");
        assertThat(admin.get("/api/v1/runs/" + left.path("number").asInt() + "/outputs")
                        .text())
                .contains("drop/a.csv", "drop/c.csv");
        admin.bringIn(
                        """
                        task: put-away
                        team: revenue
                        does: { files: delete, under: %s, matching: "*.csv", quarantine: %s }
                        """
                                .formatted(folder, work.folder().resolve("away")))
                .expect(200);
        JsonNode thin = run("put-away", Map.of());
        assertThat(thin.path("state").asString()).isEqualTo("failed");
        assertThat(thin.path("message").asString())
                .startsWith("1 file could not be worked on: the name of")
                .endsWith("; 2 files put away into " + work.folder().resolve("away") + ", 4 bytes");
        assertThat(log(thin)).contains("LEFT    b\uFFFDd.csv: the name of");
    }

    @Test
    @DisplayName("the arrival of such a file is told with as much of its name as can be said")
    void suchAFileArrives() throws Exception {
        Path folder = Files.createDirectory(work.folder().resolve("incoming"));
        admin.bringIn(
                        """
                        task: take-in
                        team: revenue
                        parameters: { name: { type: text, default: "" } }
                        does: { command: [ echo, "${name}" ] }
                        triggers:
                          - { name: came, on: file.arrived, under: %s, matching: "*.csv", settled: 1 s, with: { name: "${event.name}" } }
                        """
                                .formatted(folder))
                .expect(200);
        Await.until("it watches", () -> admin.get("/api/v1/triggers/take-in/came")
                .body()
                .path("trigger")
                .has("lookedAt"));
        write(folder, "\"$(printf 'b\\370d')\"");
        Await.until("its arrival starts a run", () -> {
            JsonNode first = admin.get("/api/v1/runs?job=take-in").body().path(0);
            return first.path("parameters").path("name").asString().equals("b\uFFFDd.csv");
        });
    }

    @Test
    @EnabledIf("isPossible")
    @DisplayName("what jobs leave behind is taken note of, so that no process number stays in use")
    void nothingStays() {
        admin.bringIn(work.task("leaves", "/bin/sh, -c, \"(sh -c 'sleep 0.1 &'); sleep 0.5\"", ""))
                .expect(200);
        admin.bringIn(work.task("looks", "/bin/sh, -c, \"grep -s ') Z' /proc/[0-9]*/stat; echo looked\"", ""))
                .expect(200);
        assertThat(run("leaves", Map.of()).path("state").asString()).isEqualTo("succeeded");
        assertThat(log(run("looks", Map.of()))).isEqualTo("looked\n");
    }
}
