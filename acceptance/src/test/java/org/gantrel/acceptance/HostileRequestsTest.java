package org.gantrel.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Random;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

/** Calls that are generated from the API's own description: every call, with values that nobody sends by accident. */
@DisplayName("Hostile requests")
class HostileRequestsTest extends OneService {

    private static final int COUNT = Integer.getInteger("gantrel.requests", 1_000);
    private static final long SEED = Long.getLong("gantrel.seed", 20_261_126L);
    private static final Duration SLOW = Duration.ofSeconds(10);
    private static final Pattern IN_PATH = Pattern.compile("\\{([^}]+)}");

    private static final List<String> TEXTS = List.of(
            "",
            "revenue",
            "say",
            "admin",
            "\0",
            "a\0b",
            "\u001b[2J\u0007",
            "../../../etc/passwd",
            "/proc/self/environ",
            "'; drop table run; --",
            "${",
            "${x}",
            "${route + }",
            "${\"a\".matches(\"(a+)+$\")}",
            "$${",
            "{{7*7}}",
            "<script>alert(1)</script>",
            "=1+1",
            "\ud800",
            "\u202eevil",
            "ß𝕏é漢字",
            "a".repeat(5_000),
            "(".repeat(400),
            "[".repeat(1_000),
            "{a: ".repeat(200),
            "(a+)+$",
            "+1000000000-12-31T23:59:59Z",
            "-999999999-01-01T00:00:00Z",
            "9999-12-31T23:59:59.999999999Z",
            "2026-02-30",
            "0001-01-01",
            "P999999999D",
            "PT0.000000001S",
            "every day at 25:61",
            "every 1 minutes on the last weekday of every month in 9999",
            "* * * * * * *",
            "RRULE:FREQ=SECONDLY;COUNT=999999999",
            "DTSTART:99991231T235959 RRULE:FREQ=YEARLY;BYMONTHDAY=30;BYMONTH=2",
            "Europe/Nowhere",
            "+18:00",
            "NaN",
            "1e400",
            "9223372036854775808",
            "-1",
            "true",
            "null",
            "task: x\nteam: revenue\ndoes: { command: [ \"true\" ] }\nparameters: { p: { type: text, pattern: \"(\" } }",
            "task: y\nteam: revenue\ndoes: &a { command: *a }",
            "roster: r\nteam: revenue\nrows: [ { a: 1 } ]",
            "calendar: c\nteam: revenue\ndays: { }",
            "task: t\nteam: revenue\ndoes: { shell: \"x\" }\nschedules: [ { name: s, when: every day, zone: UTC, with: { a: \"${\" } } ]");

    private final Random random = new Random(SEED);
    private final List<Http> callers = new ArrayList<>();
    private final List<String> wrong = new ArrayList<>();
    private final List<Long> started = new ArrayList<>();
    private JsonNode api;

    @BeforeAll
    static void begin() {
        admin.bringIn("task: say\nteam: revenue\nparameters: { key: { type: text, default: a } }\n"
                        + "does: { command: [ echo, \"${key}\" ] }\n---\n"
                        + "task: steady\nteam: revenue\ndoes: { command: [ \"true\" ] }\n")
                .expect(200);
        for (String role : List.of("viewer", "editor")) {
            admin.post("/api/v1/people", Map.of("name", role, "password", Service.PASSWORD))
                    .expect(201);
            admin.put("/api/v1/teams/revenue/members/" + role, Map.of("role", role))
                    .expect(200);
        }
    }

    @Test
    @DisplayName("are answered quickly, with a refusal that says why and nothing of the service's inside")
    void areRefused() {
        api = admin.get("/api/openapi.json").body();
        callers.add(Http.unsigned(service.url()));
        callers.add(service.as("viewer", Service.PASSWORD));
        callers.add(service.as("editor", Service.PASSWORD));
        callers.add(admin);
        var calls = new ArrayList<Map.Entry<String, String>>();
        api.path("paths")
                .forEachEntry((path, methods) -> methods.forEachEntry((method, operation) -> {
                    if (!path.endsWith("/events")) {
                        calls.add(Map.entry(method.toUpperCase(Locale.ROOT), path));
                    }
                }));
        for (int i = 0; i < COUNT; i++) {
            var call = calls.get(i < calls.size() ? i : random.nextInt(calls.size()));
            send(i, call.getKey(), call.getValue());
            if (i % Math.max(1, COUNT / 20) == 0) {
                started.add(admin.start("steady", Map.of()));
            }
        }
        assertThat(wrong).hasSize(0);
        long run = admin.start("steady", Map.of());
        assertThat(service.ended(admin, run).path("state").asString()).isEqualTo("succeeded");
        assertThat(admin.get("/api/v1/health").body().path("status").asString()).isEqualTo("up");
        assertThat(service.said()).doesNotContain("Exception");
        System.out.println("starts beside " + COUNT + " hostile requests were late by (ms) "
                + started.stream().map(this::lag).sorted().toList());
    }

    private long lag(long number) {
        JsonNode each = service.ended(admin, number);
        assertThat(each.path("state").asString()).isEqualTo("succeeded");
        return Duration.between(
                        Instant.parse(each.path("queuedAt").asString()),
                        Instant.parse(each.path("startedAt").asString()))
                .toMillis();
    }

    private void send(int index, String method, String path) {
        JsonNode operation = api.path("paths").path(path).path(method.toLowerCase(Locale.ROOT));
        Matcher matcher = IN_PATH.matcher(path);
        String address = matcher.replaceAll(found -> Matcher.quoteReplacement(encoded(inPath(found.group(1)))));
        var query = new ArrayList<String>();
        operation.path("parameters").valueStream().forEach(parameter -> {
            if (parameter.path("in").asString().equals("query") && random.nextInt(3) > 0) {
                query.add(parameter.path("name").asString() + "=" + encoded(text()));
            }
        });
        if (random.nextInt(40) == 0) {
            query.add("x=%ff%00");
        }
        JsonNode schema = operation
                .path("requestBody")
                .path("content")
                .path("application/json")
                .path("schema");
        String body = schema.isMissingNode() ? null : body(schema);
        Http caller = callers.get(random.nextInt(callers.size()));
        if (isOwnEnd(method, path, address)) {
            return;
        }
        String said = method + " " + address + (query.isEmpty() ? "" : "?" + String.join("&", query));
        long begun = System.nanoTime();
        Http.Answer answer = caller.send(method, said.substring(method.length() + 1), body);
        Duration took = Duration.ofNanos(System.nanoTime() - begun);
        String what = "request " + index + " of seed " + SEED + ": " + said + "\n" + body + "\n" + answer.status() + " "
                + answer.text();
        boolean telling = Stream.of("Exception", "org.", "\\tat ", "java.").anyMatch(answer.text()::contains);
        boolean shaped = answer.body().path("status").asInt(0) == answer.status()
                && !answer.body().path("title").asString("").isBlank();
        if (answer.status() >= 500
                || isSlow(took)
                || (answer.status() >= 400 && !method.equals("HEAD") && (telling || !shaped))) {
            wrong.add(what);
        }
    }

    /** Whether a request took long though others do not: on a busy machine all do. */
    private static boolean isSlow(Duration took) {
        if (took.compareTo(SLOW) < 0) {
            return false;
        }
        long begun = System.nanoTime();
        admin.get("/api/v1/health");
        return took.toNanos() > 20 * (System.nanoTime() - begun);
    }

    /** What would end the accounts that the test itself calls with. */
    private static boolean isOwnEnd(String method, String path, String address) {
        return path.startsWith("/api/v1/sessions")
                || path.startsWith("/api/v1/keys")
                || path.endsWith("/shut")
                || path.endsWith("/password")
                || (method.equals("DELETE") && path.contains("tokens"))
                || address.contains("members");
    }

    private String inPath(String name) {
        return switch (random.nextInt(4)) {
            case 0 -> name.contains("umber") || name.equals("id") ? String.valueOf(random.nextInt(20)) : "say";
            case 1 -> name.contains("job") || name.equals("name") ? "say" : "revenue";
            default -> text();
        };
    }

    private String text() {
        String text = TEXTS.get(random.nextInt(TEXTS.size()));
        return random.nextInt(4) == 0 ? text + TEXTS.get(random.nextInt(TEXTS.size())) : text;
    }

    private static String encoded(String text) {
        // the server has a longest address, and refuses beyond it before anything of ours is asked
        String brief = text.substring(0, Math.min(text.length(), 400));
        return brief.isEmpty()
                ? "-"
                : URLEncoder.encode(brief, StandardCharsets.UTF_8).replace("+", "%20");
    }

    private String body(JsonNode schema) {
        return switch (random.nextInt(12)) {
            case 0 -> "";
            case 1 -> "[".repeat(2_000);
            case 2 -> "{\"a\":".repeat(600);
            case 3 -> "\"" + "x".repeat(70_000) + "\"";
            case 4 -> "\u0000\u0001";
            case 5 -> "{\"name\": \"a\\u0000b\", \"text\": \"\\ud800\"}";
            default -> Http.JSON.writeValueAsString(value(schema, 0));
        };
    }

    private Object value(JsonNode schema, int depth) {
        JsonNode real =
                schema.has("$ref") ? api.at(schema.path("$ref").asString().substring(1)) : schema;
        if (depth > 6 || random.nextInt(15) == 0) {
            return text();
        }
        return switch (real.path("type").asString("object")) {
            case "array" -> {
                var items = new ArrayList<Object>();
                for (int i = random.nextInt(4); i > 0; i--) {
                    items.add(value(real.path("items"), depth + 1));
                }
                yield items;
            }
            case "integer", "number" ->
                List.of(0, -1, 1, 2_147_483_647, Long.MAX_VALUE, 1.5).get(random.nextInt(6));
            case "boolean" -> random.nextBoolean();
            case "string" -> text();
            default -> {
                var object = new LinkedHashMap<String, Object>();
                real.path("properties").forEachEntry((name, each) -> {
                    if (random.nextInt(5) > 0) {
                        object.put(name, value(each, depth + 1));
                    }
                });
                if (real.path("additionalProperties").isObject()) {
                    object.put(text(), value(real.path("additionalProperties"), depth + 1));
                    object.put("key", value(real.path("additionalProperties"), depth + 1));
                }
                yield object;
            }
        };
    }
}
