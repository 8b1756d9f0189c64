package org.gantrel.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

@DisplayName("The demo")
class DemoTest {

    private record Demo(Process process, Path log) {
        String said() {
            try {
                return Files.readString(log);
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
        }

        void stop() throws InterruptedException {
            process.toHandle().descendants().forEach(ProcessHandle::destroy);
            process.destroy();
            assertThat(process.waitFor(Await.PATIENCE.toSeconds(), TimeUnit.SECONDS))
                    .isTrue();
        }
    }

    private static Demo start(int port, Path data) throws Exception {
        Path log = Files.createTempFile("demo", ".log");
        Process process = Shell.program(
                        Map.of(), "demo", "--port", String.valueOf(port), "--data", data.toString(), "--days", "3")
                .redirectErrorStream(true)
                .redirectOutput(log.toFile())
                .start();
        var demo = new Demo(process, log);
        try {
            Await.until("the demo is open", () -> {
                assertThat(process.isAlive()).as(demo.said()).isTrue();
                return demo.said().contains("begins anew");
            });
            return demo;
        } catch (AssertionError e) {
            demo.stop();
            throw e;
        }
    }

    private static boolean isFree(int port) {
        try (ServerSocket probe = new ServerSocket()) {
            probe.setReuseAddress(true);
            probe.bind(new InetSocketAddress(InetAddress.getLoopbackAddress(), port));
            return true;
        } catch (IOException e) {
            return false;
        }
    }

    private static int freePorts() throws Exception {
        try (ServerSocket free = new ServerSocket(0)) {
            return Math.min(60_000, free.getLocalPort());
        }
    }

    @Test
    @DisplayName("opens with teams, jobs that run and a past, says when a port is taken, and keeps its data")
    void opensAndKeepsItsData() throws Exception {
        int port = freePorts();
        Path data = Files.createTempDirectory("demo");
        Demo demo = start(port, data);
        String url = "http://127.0.0.1:" + port;
        long last;
        try {
            assertThat(demo.said()).contains(url).contains("lowmarsh-demo").contains("mara.holt");
            Shell.Result taken =
                    Shell.run(Map.of(), "", "demo", "--port", String.valueOf(port), "--data", data.toString());
            assertThat(taken.expect(4).err()).contains("port " + port + " on 127.0.0.1 is in use");
            Http mara = Http.signedIn(url, "mara.holt", "lowmarsh-demo");
            assertThat(mara.get("/api/v1/teams").body()).hasSize(5);
            JsonNode jobs = mara.get("/api/v1/jobs").body();
            assertThat(jobs.size()).isGreaterThanOrEqualTo(14);
            int all = mara.get("/api/v1/runs?limit=500").body().size();
            assertThat(all).isGreaterThan(200);
            // nearly all of the past went well, and only what its outage took was missed
            assertThat(mara.get("/api/v1/runs?limit=500&state=succeeded").body().size())
                    .isGreaterThan(all * 8 / 10);
            assertThat(mara.get("/api/v1/runs?state=missed").body()).isNotEmpty();
            assertThat(mara.get("/api/v1/today").body().path("attention")).isNotEmpty();
            for (JsonNode job : jobs) {
                assertThat(mara.get("/api/v1/jobs/" + job.path("name").asString())
                                .body()
                                .path("warnings"))
                        .isEmpty();
            }
            last = runsWell(mara);
        } finally {
            demo.stop();
        }
        Await.until(
                "its ports are free again",
                () -> isFree(port) && isFree(port + 1) && isFree(port + 2) && isFree(port + 4));
        assertThat(Files.list(data.resolve("mail"))).isNotEmpty();
        Demo again = start(port, data);
        try {
            Http mara = Http.signedIn(url, "mara.holt", "lowmarsh-demo");
            assertThat(mara.get("/api/v1/runs/" + last).body().path("state").asString())
                    .isEqualTo("succeeded");
            assertThat(again.said()).doesNotContain("days of history");
        } finally {
            again.stop();
        }
    }

    /** Runs each kind of work of the demo for real; one that fails sends its mail. */
    private static long runsWell(Http mara) {
        Map<String, Map<String, String>> starts = Map.of(
                "build-sailings", Map.of("season", "summer"),
                "settle-tickets", Map.of("route", "sound"),
                "publish-duty-list", Map.of(),
                "check-kiosk", Map.of("terminal", "mainland"),
                "remind-season-passes", Map.of(),
                "send-parts-order", Map.of("supplier_key", "lowmarsh-demo-key"),
                "count-engine-hours", Map.of());
        long last = 0;
        for (var start : starts.entrySet()) {
            last = mara.start(start.getKey(), start.getValue());
        }
        long failing = mara.start("settle-tickets", Map.of("route", "outer-isles", "day", "2026-11-13"));
        for (long number = failing - starts.size(); number < failing; number++) {
            long each = number;
            Await.until("run " + each + " of the demo ended", () -> ended(mara, each));
        }
        Await.until("the failing run ended", () -> ended(mara, failing));
        JsonNode runs =
                mara.get("/api/v1/runs?cause=person&since=2026-01-01T00:00:00Z").body();
        for (JsonNode run : runs) {
            String expected = run.path("number").asLong() == failing ? "failed" : "succeeded";
            assertThat(run.path("state").asString()).as(run.toString()).isEqualTo(expected);
        }
        Await.until("the mails are sent", () -> mara.get("/api/v1/deliveries")
                .body()
                .valueStream()
                .filter(mail -> mail.path("run").asLong() == failing)
                .allMatch(mail -> mail.path("state").asString().equals("sent")));
        return last;
    }

    private static boolean ended(Http http, long number) {
        return http.get("/api/v1/runs/" + number).body().has("finishedAt");
    }
}
