package org.gantrel.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("Calls with large bodies, and with slow ones")
class LargeCallsTest extends OneService {

    private static final String PASSWORD = "a-long-password";

    @BeforeAll
    static void begin() {
        for (String name : List.of("first", "second", "third")) {
            admin.post("/api/v1/people", Map.of("name", name, "fullName", name, "password", PASSWORD))
                    .expect(201);
            admin.put("/api/v1/teams/revenue/members/" + name, Map.of("role", "viewer"))
                    .expect(200);
        }
    }

    private static String files(String text, int many) {
        String file = "{\"name\": \"f\", \"text\": \"" + text + "\"}";
        return "{\"files\": [" + String.join(",", Collections.nCopies(many, file)) + "]}";
    }

    @Test
    @DisplayName("take turns, so that all of them together need no more memory than two, and nobody else waits")
    void takeTurns() {
        byte[] large = files("x".repeat(14_000_000), 4).getBytes(StandardCharsets.UTF_8);
        byte[] branched = files("a: [" + ("[" + "[],".repeat(480) + "[]],").repeat(480) + "[]]", 1)
                .getBytes(StandardCharsets.UTF_8);
        HttpClient client = HttpClient.newHttpClient();
        List<CompletableFuture<Integer>> sent = new ArrayList<>();
        for (String name : List.of("first", "second", "third")) {
            String token = Http.signedIn(service.url(), name, PASSWORD).token();
            Stream.of(large, large, branched, branched).forEach(body -> {
                HttpRequest request = HttpRequest.newBuilder(URI.create(service.url() + "/api/v1/imports?check=true"))
                        .header("Authorization", "Bearer " + token)
                        .header("Content-Type", "application/json")
                        .POST(HttpRequest.BodyPublishers.ofByteArray(body))
                        .build();
                sent.add(client.sendAsync(request, HttpResponse.BodyHandlers.discarding())
                        .thenApply(HttpResponse::statusCode));
            });
        }
        admin.get("/api/v1/jobs").expect(200);
        for (CompletableFuture<Integer> each : sent) {
            // on a machine that stands still for minutes a body may also not arrive in time
            assertThat(each.join()).isIn(422, 429, 408);
        }
        assertThat(sent).extracting(CompletableFuture::join).contains(422);
        String jobs = IntStream.range(0, 300)
                .mapToObj(i -> "task: small-" + i + "\nteam: revenue\ndoes: { command: [ \"true\" ] }\n")
                .collect(Collectors.joining("---\n"));
        admin.bringIn(jobs).expect(200);
    }

    @Test
    @DisplayName("take no thread while their bodies come, whoever sends them and whatever is wrong with them")
    void arriveSlowly() throws IOException {
        List<Socket> waiting = new ArrayList<>();
        List<Socket> refused = new ArrayList<>();
        for (String name : List.of("first", "second", "third")) {
            String token = Http.signedIn(service.url(), name, PASSWORD).token();
            for (int i = 0; i < 50; i++) {
                waiting.add(begin("/api/v1/imports?check=true", "Authorization: Bearer " + token));
                refused.add(begin("/api/v1/imports", "X: not-signed-in"));
                refused.add(begin("/nothing//here", "X: no-address"));
            }
        }
        admin.get("/api/v1/jobs").expect(200);
        for (Socket each : waiting) {
            assertThat(each.getInputStream().available()).isZero();
            rest(each);
            assertThat(answer(each)).startsWith("HTTP/1.1 422").doesNotContain("Connection: close");
        }
        for (Socket each : refused) {
            assertThat(answer(each)).startsWith("HTTP/1.1 4").contains("Connection: close");
            // read to its end by what was said
            assertThat(each.getInputStream().readAllBytes()).isNotNull();
            each.close();
        }
        assertThat(service.said()).doesNotContain("Exception");
    }

    @Test
    @DisplayName("that wait for a host which says nothing leave their caller four turns, and all others theirs")
    void waitForSilence() throws IOException {
        List<CompletableFuture<Integer>> trials = new ArrayList<>();
        try (var silent = new ServerSocket(0, 50, InetAddress.getLoopbackAddress())) {
            String url = "jdbc:h2:tcp://127.0.0.1:" + silent.getLocalPort() + "/tickets";
            admin.put(
                            "/api/v1/credentials/silent",
                            Map.of(
                                    "team",
                                    "revenue",
                                    "kind",
                                    "database",
                                    "facts",
                                    Map.of("url", url, "user", "a"),
                                    "secrets",
                                    Map.of("password", "x")))
                    .expect(201);
            for (int i = 0; i < 7; i++) {
                trials.add(CompletableFuture.supplyAsync(
                        () -> admin.post("/api/v1/credentials/silent/test", Map.of())
                                .status(),
                        work -> new Thread(work).start()));
            }
            Await.until(
                    "those for which there is no turn are told so",
                    () -> trials.stream().filter(CompletableFuture::isDone).count() == 3);
            assertThat(trials.stream().filter(CompletableFuture::isDone).map(CompletableFuture::join))
                    .containsOnly(429);
            admin.get("/api/v1/jobs").expect(200);
        }
        // what was silent is gone, and so is what waited for it
        assertThat(trials)
                .extracting(CompletableFuture::join)
                .doesNotContain(500)
                .contains(200);
    }

    @Test
    @DisplayName("need no connection that somebody keeps without a use for it")
    void keepNoConnections() throws IOException {
        URI url = URI.create(service.url());
        List<Socket> idle = new ArrayList<>();
        for (int i = 0; i < 2_100; i++) {
            Socket socket = new Socket(url.getHost(), url.getPort());
            socket.setSoTimeout((int) Await.PATIENCE.toMillis());
            socket.getOutputStream()
                    .write("GET /api/v1/health HTTP/1.1\r\nHost: x\r\n\r\n".getBytes(StandardCharsets.US_ASCII));
            assertThat(answer(socket)).startsWith("HTTP/1.1 200");
            idle.add(socket);
        }
        Http.signedIn(service.url(), "first", PASSWORD).get("/api/v1/jobs").expect(200);
        // the latest are those that somebody may still use
        Socket latest = idle.get(idle.size() - 1);
        latest.getOutputStream()
                .write("GET /api/v1/health HTTP/1.1\r\nHost: x\r\n\r\n".getBytes(StandardCharsets.US_ASCII));
        String said = answer(latest);
        while (!said.contains("HTTP/1.1 200")) {
            // the end of what it was told before
            said = answer(latest);
        }
        assertThat(idle.get(0).getInputStream().readAllBytes()).hasSizeLessThan(200);
        for (Socket each : idle) {
            each.close();
        }
    }

    private static Socket begin(String path, String header) throws IOException {
        URI url = URI.create(service.url());
        Socket socket = new Socket(url.getHost(), url.getPort());
        socket.setSoTimeout((int) Await.PATIENCE.toMillis());
        socket.getOutputStream()
                .write(("POST " + path
                                + " HTTP/1.1\r\nHost: x\r\nContent-Type: application/json\r\nContent-Length: 2\r\n"
                                + header + "\r\n\r\n{")
                        .getBytes(StandardCharsets.US_ASCII));
        return socket;
    }

    private static void rest(Socket socket) throws IOException {
        socket.getOutputStream().write('}');
    }

    /** The head of an answer, and what of its body came along with it. */
    private static String answer(Socket socket) throws IOException {
        byte[] bytes = new byte[4_000];
        return new String(bytes, 0, socket.getInputStream().read(bytes), StandardCharsets.US_ASCII);
    }
}
