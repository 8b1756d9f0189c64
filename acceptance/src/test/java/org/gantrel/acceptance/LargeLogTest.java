package org.gantrel.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tools.jackson.databind.JsonNode;

@DisplayName("A command that prints very much")
class LargeLogTest {

    private static final int LARGE = 30_000_000;

    @TempDir
    Path folder;

    @Test
    @DisplayName("goes on, and takes no more of the disk than a log may; its beginning and its end can be read")
    void goesOn() throws IOException {
        try (Service service = Service.fresh("--log-limit", "1MB")) {
            Http admin = service.admin();
            admin.post("/api/v1/teams", Map.of("name", "revenue")).expect(201);
            admin.bringIn(
                            """
                            task: chatter
                            team: revenue
                            does:
                              shell: |
                                for i in $(seq 300); do seq 20000; seq 9 >&2; done
                                for i in $(seq 600); do [ -e %s ] && break; sleep 1; done
                                echo the end
                            outcome: { warned-by: [ "^never$" ], error-stream: allowed }
                            """
                                    .formatted(folder.resolve("stop")))
                    .expect(200);
            long number = admin.start("chatter", Map.of());
            Path log = service.data().resolve("runs/" + number / 1000 + "/" + number + "/log");
            Await.until("it has said much", () -> log.toFile().length() > LARGE);
            Await.until("what was too much has gone", () -> takes(log) < LARGE / 4);
            Files.createFile(folder.resolve("stop"));
            JsonNode run = service.ended(admin, number);
            assertThat(run.path("state").asString()).isEqualTo("warned");
            assertThat(run.path("message").asString())
                    .contains(
                            "its log grew past log-limit, and the middle, which was left out, was not looked through");
            assertThat(run.toString()).contains("its log grew past 1 MB (log-limit): its middle is left out");
            assertThat(takes(log)).isLessThan(2 << 20);
            String said =
                    admin.get("/api/v1/runs/" + number + "/log").expect(200).text();
            assertThat(said).startsWith("1\n2\n3\n").endsWith("\nthe end\n");
            assertThat(said.lines().filter(line -> !line.matches("\\d+|the end")))
                    .singleElement()
                    .asString()
                    .matches("--- \\d+ MB of the log were left out here: it grew past log-limit ---");
        }
    }

    /** How many bytes of the disk a file takes; none where it was packed. */
    private static long takes(Path file) {
        try {
            Process process = new ProcessBuilder("stat", "-c", "%b", file.toString())
                    .redirectErrorStream(true)
                    .start();
            String said = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8).strip();
            return said.matches("\\d+") ? 512 * Long.parseLong(said) : 0;
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }
}
