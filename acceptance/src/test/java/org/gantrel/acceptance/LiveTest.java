package org.gantrel.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

@DisplayName("What is live")
class LiveTest extends OneService {

    @BeforeAll
    static void define() {
        work.program("quick.sh", "echo quick").program("slow.sh", "echo begun; sleep 60");
        admin.bringIn(work.task("quick", "./quick.sh", "")).expect(200);
        admin.bringIn(work.task("slow", "./slow.sh", "")).expect(200);
        admin.bringIn("chain: both\nteam: revenue\nsteps: [ { job: slow }, { job: quick } ]\n")
                .expect(200);
    }

    /** Reads a stream until some line holds a text; all that came. */
    private static CompletableFuture<List<String>> until(Http http, String text) {
        return CompletableFuture.supplyAsync(() -> {
            var seen = new ArrayList<String>();
            try (var lines = http.lines("/api/v1/events")) {
                lines.takeWhile(line -> {
                            seen.add(line);
                            return !line.contains(text);
                        })
                        .forEach(line -> {});
            }
            return seen;
        });
    }

    @Test
    @DisplayName("goes on after a restart where a reader left off")
    void goesOnAfterARestart() throws Exception {
        CompletableFuture<List<String>> first = until(admin, "\"state\":\"succeeded\"");
        Await.until("somebody watches", () -> {
            admin.start("quick", Map.of());
            return first.isDone();
        });
        String id = first.get().stream()
                .filter(line -> line.startsWith("id:"))
                .reduce((one, other) -> other)
                .orElseThrow()
                .substring(3);
        long unheard = admin.start("quick", Map.of());
        service.ended(admin, unheard);
        killAndStart();
        List<String> then = until(admin.with("Last-Event-ID", id), "\"number\":" + unheard)
                .get(Await.PATIENCE.toSeconds(), TimeUnit.SECONDS);
        assertThat(then).contains("event:run.changed");
        assertThat(then.stream().filter(line -> line.startsWith("id:")).map(line -> Long.parseLong(line.substring(3))))
                .allMatch(position -> position > Long.parseLong(id));
    }

    /** Asks for the stream and leaves as soon as the first line of the answer is there; that line. */
    private static String comeAndLeave(int port, String token) {
        try (var socket = new Socket(InetAddress.getLoopbackAddress(), port)) {
            socket.getOutputStream()
                    .write(("GET /api/v1/events HTTP/1.1\r\nHost: localhost\r\nAuthorization: Bearer " + token
                                    + "\r\n\r\n")
                            .getBytes(StandardCharsets.US_ASCII));
            return String.valueOf(
                    new BufferedReader(new InputStreamReader(socket.getInputStream(), StandardCharsets.US_ASCII))
                            .readLine());
        } catch (IOException e) {
            return e.toString();
        }
    }

    @Test
    @DisplayName("lets in whoever comes again and again and leaves without a word, several at once while much happens")
    void letsInWhoComesAgain() throws Exception {
        int port = URI.create(service.url()).getPort();
        String token = admin.token();
        List<CompletableFuture<List<String>>> visitors = IntStream.range(0, 4)
                .mapToObj(each -> CompletableFuture.supplyAsync(
                        () -> Stream.generate(() -> comeAndLeave(port, token))
                                .limit(40)
                                .toList(),
                        task -> new Thread(task).start()))
                .toList();
        Await.until("all have left", () -> {
            admin.start("quick", Map.of());
            return visitors.stream().allMatch(CompletableFuture::isDone);
        });
        assertThat(visitors.stream().flatMap(visitor -> visitor.join().stream()))
                .hasSize(160)
                .allMatch(line -> line.contains(" 200"));
        // what breaks off is ended in good order by the server, and reaches into nobody else's answer
        assertThat(service.said()).doesNotContain("IllegalStateException");
        CompletableFuture<List<String>> heard = until(admin, "\"state\":\"succeeded\"");
        Await.until("they hear", () -> {
            admin.start("quick", Map.of());
            return heard.isDone();
        });
        assertThat(heard.get()).isNotEmpty();
    }

    @Test
    @DisplayName("stalls for nobody else while one reader does not read")
    void stallsForNobodyElse() throws Exception {
        URI url = URI.create(service.url());
        var stalled = new ArrayList<Socket>();
        for (int i = 0; i < 5; i++) {
            var socket = new Socket();
            socket.setReceiveBufferSize(1_024);
            socket.connect(new InetSocketAddress(InetAddress.getLoopbackAddress(), url.getPort()));
            socket.getOutputStream()
                    .write(("GET /api/v1/events HTTP/1.1\r\nHost: localhost\r\nAuthorization: Bearer " + admin.token()
                                    + "\r\n\r\n")
                            .getBytes(StandardCharsets.US_ASCII));
            stalled.add(socket);
        }
        for (int i = 0; i < 60; i++) {
            admin.start("quick", Map.of());
        }
        long last = admin.start("quick", Map.of());
        service.ended(admin, last);
        CompletableFuture<List<String>> heard = until(admin, "\"state\":\"succeeded\"");
        Await.until("others hear", () -> {
            admin.start("quick", Map.of());
            return heard.isDone();
        });
        for (Socket socket : stalled) {
            socket.close();
        }
    }

    @Test
    @DisplayName("is stopped for good: a chain that was cancelled stays so though the service dies at once")
    void staysCancelled() throws Exception {
        long chain = admin.start("both", Map.of());
        Await.until(
                "its step runs",
                () -> admin.get("/api/v1/runs?job=slow").body().toString().contains("running"));
        admin.post("/api/v1/runs/" + chain + "/cancellation", null).expect(200);
        killAndStart();
        JsonNode run = service.ended(admin, chain);
        assertThat(run.path("state").asString()).isEqualTo("cancelled");
        assertThat(run.path("steps").get(0).path("state").asString()).isEqualTo("cancelled");
        assertThat(run.path("steps").get(1).path("state").asString()).isEqualTo("out-of-reach");
    }

    @Test
    @DisplayName("tells of the service's health without signing in, and of nothing else")
    void tellsItsHealth() {
        JsonNode health =
                Http.unsigned(service.url()).get("/api/v1/health").expect(200).body();
        assertThat(health.path("status").asString()).isEqualTo("up");
        assertThat(health.path("engine").asString()).isEqualTo("up");
        assertThat(health.path("database").asString()).isEqualTo("up");
        assertThat(health.path("setAside").asInt()).isZero();
        Http.unsigned(service.url()).get("/api/v1/health/ready").expect(200);
        Http.unsigned(service.url()).get("/api/v1/set-aside").expect(401);
    }

    @Test
    @DisplayName("can be asked at the command line: what is set aside, and what history would go")
    void isAskedAtTheCommandLine() {
        assertThat(gantrel("aside", "list").err()).contains("nothing is set aside");
        Shell.Result retry = gantrel("aside", "retry", "schedule", "17");
        assertThat(retry.code()).isEqualTo(4);
        assertThat(retry.err()).contains("nothing of the kind 'schedule' with the number 17 is set aside");
        service.ended(admin, admin.start("quick", Map.of()));
        service.ended(admin, admin.start("quick", Map.of()));
        assertThat(gantrel("keep", "--show").err()).contains("runs for ever").contains("events 90 days");
        assertThat(gantrel("team", "keep", "revenue", "--runs", "soon").err())
                .contains("runs: 'soon': a duration is expected, such as 90 s, 30 min, 1 h 30 min or 2 days");
        assertThat(gantrel("team", "keep", "revenue", "--runs", "1 s").code()).isZero();
        Await.until(
                "there is something old", () -> gantrel("keep", "--show").out().contains("quick"));
        assertThat(gantrel("keep", "--now").code()).isZero();
        assertThat(admin.get("/api/v1/runs?job=quick").body()).hasSize(1);
        assertThat(gantrel("team", "keep", "revenue").code()).isZero();
    }
}
