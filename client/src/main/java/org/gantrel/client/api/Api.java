package org.gantrel.client.api;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.net.HttpURLConnection;
import java.net.URI;
import java.net.URISyntaxException;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.BiConsumer;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import org.gantrel.client.Wrong;
import org.gantrel.core.text.TlsTrouble;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * Calls the service. The JDK's older HTTP client does for it: a command makes one or two calls, and this one starts in
 * a fraction of the time of the newer.
 */
public final class Api {

    private static final JsonMapper JSON = new JsonMapper();
    private static final Pattern NEXT = Pattern.compile("<([^>]+)>;\\s*rel=\"next\"");
    private static final int CONNECT_MILLIS = 10_000;
    /** An answer may take as long as the work that it is about; silence for longer is taken for absence. */
    private static final int ANSWER_MILLIS = 120_000;

    /** The service says something at least every 15 s on a stream. */
    private static final int STREAM_MILLIS = 60_000;

    private static final int PAGE = 500;

    /** An answer: its body, and the ETag it came with. */
    public record Answer(JsonNode body, Optional<String> tag) {}

    private final String url;
    private final Optional<String> token;
    private final Map<String, String> always;

    public Api(String url, Optional<String> token) {
        this(url, token, Map.of());
    }

    private Api(String url, Optional<String> token, Map<String, String> always) {
        this.url = url.replaceAll("/+$", "");
        this.token = token;
        this.always = always;
    }

    /** The same as somebody who signs in as the console does, by a cookie. */
    public Api session(String name, String password) {
        HttpURLConnection connection =
                open("POST", "/api/v1/sessions", Map.of("name", name, "password", password), Map.of());
        String cookie = String.valueOf(connection.getHeaderField("Set-Cookie")).replaceFirst(";.*", "");
        var signedIn = new Api(url, Optional.empty(), Map.of("Cookie", cookie));
        HttpURLConnection me = signedIn.open("GET", "/api/v1/me", null, Map.of());
        String token = read(me).path("csrf").asString();
        return new Api(
                url, Optional.empty(), Map.of("Cookie", cookie + "; gantrel-csrf=" + token, "X-Gantrel-CSRF", token));
    }

    public String url() {
        return url;
    }

    /** A path of the API with its parameters, those that are missing left out. */
    public static String path(String path, Map<String, ?> parameters) {
        String query = parameters.entrySet().stream()
                .filter(entry -> entry.getValue() != null)
                .map(entry -> entry.getKey() + "=" + encode(String.valueOf(entry.getValue())))
                .collect(Collectors.joining("&"));
        return query.isEmpty() ? path : path + "?" + query;
    }

    /** A name as a part of a path. */
    public static String encode(String text) {
        return URLEncoder.encode(text, StandardCharsets.UTF_8).replace("+", "%20");
    }

    public JsonNode get(String path) {
        return call("GET", path, null, Map.of()).body();
    }

    public Answer getTagged(String path) {
        return call("GET", path, null, Map.of());
    }

    public JsonNode post(String path, Object body) {
        return call("POST", path, body, Map.of()).body();
    }

    public JsonNode post(String path, Object body, Map<String, String> headers) {
        return call("POST", path, body, headers).body();
    }

    public JsonNode put(String path, Object body) {
        return call("PUT", path, body, Map.of()).body();
    }

    public JsonNode put(String path, Object body, Map<String, String> headers) {
        return call("PUT", path, body, headers).body();
    }

    public void delete(String path) {
        call("DELETE", path, null, Map.of());
    }

    /** The first so many rows of a list, from as many pages as it takes. */
    public List<JsonNode> list(String path, Map<String, ?> parameters, int limit) {
        if (limit < 1) {
            throw new Wrong("--limit: '" + limit + "': a whole number from 1 on would be right");
        }
        var all = new LinkedHashMap<String, Object>(parameters);
        all.put("limit", Math.min(limit, PAGE));
        var rows = new ArrayList<JsonNode>();
        Optional<String> next = Optional.of(path(path, all));
        while (next.isPresent() && rows.size() < limit) {
            HttpURLConnection connection = open("GET", next.get(), null, Map.of());
            read(connection).forEach(rows::add);
            next = next(connection);
        }
        return rows.size() > limit ? rows.subList(0, limit) : rows;
    }

    /** A text as it comes, piece by piece. */
    public InputStream stream(String path) throws IOException {
        HttpURLConnection connection = open("GET", path, null, Map.of());
        return connection.getInputStream();
    }

    /** Follows server-sent events until the stream ends: the name of each, and its data. */
    public void follow(String path, BiConsumer<String, JsonNode> each) throws IOException {
        HttpURLConnection connection = open("GET", path, null, Map.of("Accept", "text/event-stream"));
        try (var reader =
                new BufferedReader(new InputStreamReader(connection.getInputStream(), StandardCharsets.UTF_8))) {
            String name = "message";
            String line = reader.readLine();
            while (line != null) {
                if (line.startsWith("event:")) {
                    name = line.substring(6).strip();
                } else if (line.startsWith("data:")) {
                    each.accept(name, JSON.readTree(line.substring(5)));
                }
                line = reader.readLine();
            }
        }
    }

    private Answer call(String method, String path, Object body, Map<String, String> headers) {
        HttpURLConnection connection = open(method, path, body, headers);
        return new Answer(read(connection), Optional.ofNullable(connection.getHeaderField("ETag")));
    }

    private HttpURLConnection open(String method, String path, Object body, Map<String, String> headers) {
        try {
            var connection = (HttpURLConnection) new URI(url + path).toURL().openConnection();
            connection.setRequestMethod(method);
            connection.setConnectTimeout(CONNECT_MILLIS);
            connection.setReadTimeout(
                    "text/event-stream".equals(headers.get("Accept")) ? STREAM_MILLIS : ANSWER_MILLIS);
            connection.setInstanceFollowRedirects(false);
            always.forEach(connection::setRequestProperty);
            headers.forEach(connection::setRequestProperty);
            token.ifPresent(value -> connection.setRequestProperty("Authorization", "Bearer " + value));
            if (body != null) {
                connection.setDoOutput(true);
                connection.setRequestProperty("Content-Type", "application/json");
                connection.getOutputStream().write(JSON.writeValueAsBytes(body));
            }
            if (connection.getResponseCode() >= 400) {
                throw refused(connection);
            }
            return connection;
        } catch (URISyntaxException | IllegalArgumentException e) {
            throw new Unreachable("'" + url + "' is no address of a service; http://127.0.0.1:8480 would be");
        } catch (IOException e) {
            throw new Unreachable(TlsTrouble.of(e)
                    .map(trouble -> url + " " + trouble + "; --url or GANTREL_URL say where the service is")
                    .orElse("no service answers at " + url + " (" + e.getMessage()
                            + "); is it running? --url or GANTREL_URL say where it is"));
        }
    }

    private static Refused refused(HttpURLConnection connection) throws IOException {
        try (InputStream error = connection.getErrorStream()) {
            JsonNode problem = error == null ? JSON.createObjectNode() : JSON.readTree(error);
            return new Refused(connection.getResponseCode(), problem);
        } catch (JacksonException e) {
            return new Refused(connection.getResponseCode(), JSON.createObjectNode());
        }
    }

    private JsonNode read(HttpURLConnection connection) {
        try (InputStream in = connection.getInputStream()) {
            byte[] bytes = in.readAllBytes();
            return bytes.length == 0 ? JSON.missingNode() : JSON.readTree(bytes);
        } catch (IOException e) {
            throw new Unreachable("the service at " + url + " stopped in the middle of its answer");
        } catch (JacksonException e) {
            throw new Unreachable("what answers at " + url + " is not this service");
        }
    }

    private static Optional<String> next(HttpURLConnection connection) {
        return Optional.ofNullable(connection.getHeaderField("Link"))
                .map(NEXT::matcher)
                .filter(Matcher::find)
                .map(matcher -> matcher.group(1));
    }
}
