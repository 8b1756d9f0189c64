package org.gantrel.acceptance;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse;
import java.net.http.HttpResponse.BodyHandlers;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Calls the API as a program does: with a token, or with whatever headers a test wants. */
final class Http {

    static final JsonMapper JSON = new JsonMapper();
    private static final HttpClient CLIENT = HttpClient.newHttpClient();

    /** An answer. */
    record Answer(int status, JsonNode body, String text, java.net.http.HttpHeaders headers) {
        Answer expect(int wanted) {
            if (status != wanted) {
                throw new AssertionError("status " + status + " instead of " + wanted + ": " + text);
            }
            return this;
        }

        /** The address of the page that follows; empty after the last. */
        String next() {
            return header("Link").replaceAll("^.*<([^>]*)>; rel=\"next\".*$|^.*$", "$1");
        }

        String header(String name) {
            return headers.firstValue(name).orElse("");
        }

        /** What a refusal says, with all its problems. */
        String detail() {
            return body.path("detail").asString("") + body.path("problems");
        }
    }

    private final String url;
    private final Map<String, String> headers;
    private final String token;

    private Http(String url, Map<String, String> headers, String token) {
        this.url = url;
        this.headers = headers;
        this.token = token;
    }

    static Http unsigned(String url) {
        return new Http(url, Map.of(), "");
    }

    static Http signedIn(String url, String name, String password) {
        Answer answer = unsigned(url)
                .post("/api/v1/sessions", Map.of("name", name, "password", password, "token", "test"))
                .expect(200);
        String token = answer.body().path("token").asString();
        return new Http(url, Map.of("Authorization", "Bearer " + token), token);
    }

    String token() {
        return token;
    }

    Http with(String name, String value) {
        var all = new HashMap<>(headers);
        all.put(name, value);
        return new Http(url, all, token);
    }

    Answer get(String path) {
        return send("GET", path, null);
    }

    Answer post(String path, Object body) {
        return send("POST", path, body == null ? null : JSON.writeValueAsString(body));
    }

    Answer put(String path, Object body) {
        return send("PUT", path, body == null ? null : JSON.writeValueAsString(body));
    }

    Answer patch(String path, Object body) {
        return send("PATCH", path, JSON.writeValueAsString(body));
    }

    /** Brings in definitions. */
    Answer bringIn(String text) {
        return bringIn(text, "");
    }

    Answer bringIn(String text, String query) {
        return post("/api/v1/imports" + query, Map.of("files", List.of(Map.of("name", "test.yaml", "text", text))));
    }

    /** Starts a job and returns the number of its run. */
    long start(String job, Map<String, ?> parameters) {
        return post("/api/v1/jobs/" + job + "/runs", Map.of("parameters", parameters))
                .expect(201)
                .body()
                .path("number")
                .asLong();
    }

    Answer send(String method, String path, String body) {
        HttpRequest.Builder request = HttpRequest.newBuilder(URI.create(url + path))
                .method(method, body == null ? BodyPublishers.noBody() : BodyPublishers.ofString(body));
        if (body != null) {
            request.header("Content-Type", "application/json");
        }
        headers.forEach(request::header);
        try {
            HttpResponse<String> answer = CLIENT.send(request.build(), BodyHandlers.ofString());
            String text = answer.body();
            boolean json =
                    answer.headers().firstValue("Content-Type").orElse("").contains("json");
            return new Answer(
                    answer.statusCode(), json ? JSON.readTree(text) : JSON.missingNode(), text, answer.headers());
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new AssertionError("interrupted", e);
        }
    }

    /** The lines of a stream of server-sent events, as they come. */
    Stream<String> lines(String path) {
        HttpRequest.Builder request = HttpRequest.newBuilder(URI.create(url + path));
        headers.forEach(request::header);
        try {
            return CLIENT.send(request.build(), BodyHandlers.ofLines()).body();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new AssertionError("interrupted", e);
        }
    }
}
