package org.gantrel.service.web;

import static org.assertj.core.api.Assertions.assertThat;

import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse.BodyHandlers;
import java.nio.file.Files;
import java.nio.file.Path;
import org.gantrel.service.LiveService;
import org.gantrel.service.team.Teams;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tools.jackson.databind.json.JsonMapper;

@DisplayName("The API's description")
class OpenApiTest {

    private static final HttpClient HTTP = HttpClient.newHttpClient();

    @TempDir
    Path folder;

    @Test
    @DisplayName("is what the code says; the console's types are made from just that")
    void isWhatTheCodeSays() throws Exception {
        try (LiveService service = LiveService.fresh(folder)) {
            service.bean(Teams.class).createPerson(LiveService.SERVICE, "probe", "", "correct-horse-9", true);
            String url = "http://127.0.0.1:" + service.port();
            String signedIn = HTTP.send(
                            HttpRequest.newBuilder(URI.create(url + "/api/v1/sessions"))
                                    .header("Content-Type", "application/json")
                                    .POST(BodyPublishers.ofString(
                                            "{\"name\":\"probe\",\"password\":\"correct-horse-9\",\"token\":\"t\"}"))
                                    .build(),
                            BodyHandlers.ofString())
                    .body();
            String token = JsonMapper.shared().readTree(signedIn).path("token").asString();
            String fresh = get(url + "/api/openapi-fresh.json", token);
            Files.writeString(Path.of("target/openapi.json"), fresh);
            assertThat(JsonMapper.shared().readTree(fresh))
                    .as("console/openapi.json is old: copy service/target/openapi.json over it")
                    .isEqualTo(JsonMapper.shared().readTree(Files.readString(Path.of("../console/openapi.json"))));
            assertThat(get(url + "/api/openapi.json", ""))
                    .isEqualTo(Files.readString(Path.of("../console/openapi.json")));
        }
    }

    private static String get(String url, String token) throws Exception {
        var request = HttpRequest.newBuilder(URI.create(url));
        if (!token.isEmpty()) {
            request.header("Authorization", "Bearer " + token);
        }
        return HTTP.send(request.build(), BodyHandlers.ofString()).body();
    }
}
