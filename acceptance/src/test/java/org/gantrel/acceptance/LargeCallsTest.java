package org.gantrel.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

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

@DisplayName("Calls with large bodies")
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
}
