package org.gantrel.acceptance;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.IOException;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

@DisplayName("A disk that is full")
class FullDiskTest {

    private static Path disk;
    private static boolean mounted;
    private static Service service;

    @BeforeAll
    static void start() throws IOException, InterruptedException {
        disk = Files.createTempDirectory("gantrel-disk");
        mounted = run("mount", "-t", "tmpfs", "-o", "size=100m", "tmpfs", disk.toString()) == 0;
        assumeTrue(mounted, "no disk of its own can be made here");
        service = Service.in(disk.resolve("data"));
        Http admin = service.admin();
        admin.post("/api/v1/teams", Map.of("name", "revenue")).expect(201);
        admin.bringIn("task: say\nteam: revenue\nwhile-running: 5\ndoes: { command: [ \"true\" ] }\n"
                        + "schedules: [ { name: often, when: every minute, zone: UTC } ]\n")
                .expect(200);
    }

    @AfterAll
    static void end() throws IOException, InterruptedException {
        if (service != null) {
            service.stop();
        }
        if (mounted) {
            run("umount", disk.toString());
        }
    }

    private static int run(String... line) throws IOException, InterruptedException {
        return new ProcessBuilder(line)
                .redirectErrorStream(true)
                .redirectOutput(ProcessBuilder.Redirect.DISCARD)
                .start()
                .waitFor();
    }

    /** @param chunk how many bytes go between two starts: the full disk is seen before it is met, or not */
    @ParameterizedTest(name = "filled {0} bytes at a time")
    @ValueSource(ints = {256 << 10, 2 << 20})
    @DisplayName("takes away nothing that was promised, and when there is room all goes on by itself")
    void goesOn(int chunk) throws IOException {
        Http admin = service.admin();
        List<Long> promised = startWhileItFills(admin, chunk);
        assertThat(promised).isNotEmpty();
        Files.delete(disk.resolve("fill"));
        Await.until("somebody can sign in", FullDiskTest::isUp);
        Http again = service.admin();
        promised.forEach(number -> service.ended(again, number));
        String sinceThen = "/api/v1/runs?job=say&state=succeeded&cause=schedule&since=" + Instant.now();
        Await.until(
                "what is due starts by itself",
                () -> !again.get(sinceThen).expect(200).body().isEmpty());
        long number = again.start("say", Map.of());
        assertThat(service.ended(again, number).path("state").asString()).isEqualTo("succeeded");
        assertThat(again.get("/api/v1/health").body().path("setAside").asInt()).isZero();
    }

    /** Starts runs until no more can be started, while the disk fills to its last byte. */
    private static List<Long> startWhileItFills(Http admin, int chunk) throws IOException {
        var promised = new ArrayList<Long>();
        boolean full = false;
        try (OutputStream fill = Files.newOutputStream(disk.resolve("fill"))) {
            long some = Files.getFileStore(disk).getUsableSpace() - (6 << 20);
            for (long i = 0; i < some / chunk; i++) {
                fill.write(new byte[chunk]);
            }
            while (true) {
                try {
                    fill.write(new byte[chunk]);
                } catch (IOException e) {
                    full = true;
                }
                Http.Answer answer = admin.post("/api/v1/jobs/say/runs", Map.of());
                if (answer.status() == 201) {
                    promised.add(answer.body().path("number").asLong());
                } else if (full) {
                    return promised;
                }
            }
        } catch (UncheckedIOException e) {
            // it has stopped, to begin again
            return promised;
        }
    }

    private static boolean isUp() {
        try {
            Map<String, String> signIn = Map.of("name", "admin", "password", Service.PASSWORD, "token", "test");
            return Http.unsigned(service.url()).post("/api/v1/sessions", signIn).status() == 200;
        } catch (UncheckedIOException e) {
            return false;
        }
    }
}
