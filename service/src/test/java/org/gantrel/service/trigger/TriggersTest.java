package org.gantrel.service.trigger;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatCode;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.time.Clock;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.gantrel.core.access.Role;
import org.gantrel.core.credential.CredentialKind;
import org.gantrel.service.Await;
import org.gantrel.service.LiveService;
import org.gantrel.service.credential.Credentials;
import org.gantrel.service.credential.Credentials.Draft;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.Runs;
import org.gantrel.service.secret.Hmac;
import org.gantrel.service.team.Caller;
import org.gantrel.service.trigger.TriggerApi.FiringView;
import org.gantrel.service.trigger.TriggerApi.TriggerSwitchBody;
import org.gantrel.service.trigger.TriggerApi.TriggerTrial;
import org.gantrel.service.trigger.TriggerApi.TriggerTrialBody;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

@DisplayName("A trigger")
class TriggersTest {

    private static final Caller OLGA = new Caller("olga", "Olga", false, Map.of("revenue", Role.OPERATOR));
    private static final Caller VIEWER = new Caller("vera", "Vera", false, Map.of("revenue", Role.VIEWER));
    private static final Caller EDITOR = new Caller("edda", "Edda", false, Map.of("revenue", Role.EDITOR));
    private static final String TOKEN = "the-token-of-the-kiosk";
    private static final String KEY = "the-key-of-the-signatures";

    @TempDir
    static Path folder;

    private static LiveService service;
    private static TriggerApi api;
    private static Path drop;

    @BeforeAll
    static void open() throws IOException {
        service = LiveService.fresh(folder);
        api = service.bean(TriggerApi.class);
        drop = Files.createDirectory(folder.resolve("drop"));
        keep("kiosk", CredentialKind.HTTP_BEARER, "token", TOKEN);
        keep("signed", CredentialKind.SECRET, "value", KEY);
    }

    private static void keep(String name, CredentialKind kind, String secret, String value) {
        service.bean(Credentials.class)
                .keep(
                        LiveService.SERVICE,
                        name,
                        new Draft("revenue", kind, "", Map.of(), Map.of(secret, value), null, List.of(), List.of()));
    }

    @AfterAll
    static void close() {
        service.close();
    }

    /** The runs that a trigger has started. */
    private static List<Run> runs(String job, String trigger) {
        return firings(job, trigger).stream()
                .filter(each -> each.outcome().equals("started"))
                .map(each -> service.found(each.run()))
                .toList();
    }

    private static List<FiringView> firings(String job, String trigger) {
        return api.firings(OLGA, job, trigger, 500, Long.MAX_VALUE).getBody();
    }

    private static List<FiringView> firings(String job, String trigger, int count) {
        Await.until(count + " events for " + job, () -> firings(job, trigger).size() >= count);
        return firings(job, trigger);
    }

    private static void listener(String name, String trigger) {
        service.task(
                name,
                "true",
                "parameters: { what: { type: text, default: none } }\ntriggers:\n  - " + trigger.replace("\n", "\n    ")
                        + "\n");
    }

    @Test
    @DisplayName("hears the jobs of its team by pattern, label and end, never its own, and starts once for each end")
    void hearsJobs() throws IOException {
        service.task("far-one", "exit 3", "labels: [ far ]\n");
        service.task("far-two", "true", "labels: [ far ]\n");
        listener(
                "far-all",
                "{ name: any, on: run.ended, of: \"far-*\", with: { what: \"${event.job} ${event.state}\" } }");
        listener(
                "bad-far",
                "{ name: bad, on: run.ended, labels: [ far ], ends: [ failed ], when: \"event.exit_code == 3\" }");
        service.ended(service.start("far-one"));
        service.ended(service.start("far-two"));
        firings("far-all", "any", 2);
        service.restart();
        api = service.bean(TriggerApi.class);
        Await.until("both", () -> firings("far-all", "any").size() >= 2);
        assertThat(firings("far-all", "any")).hasSize(2);
        assertThat(runs("far-all", "any"))
                .extracting(run -> run.parameters().get("what"))
                .containsExactlyInAnyOrder("far-one failed", "far-two succeeded");
        assertThat(firings("bad-far", "bad", 1)).hasSize(1);
        assertThat(service.bean(Runs.class)
                        .find(firings("bad-far", "bad").get(0).run())
                        .orElseThrow()
                        .causeRef())
                .matches("\\d+");
    }

    @Test
    @DisplayName("is switched off by those who may, tried with an event that is made up, and keeps to its limit")
    void isSwitchedAndTried() {
        service.task("spring", "true", "");
        listener(
                "brook",
                """
                { name: flows, on: run.ended, of: spring, limit: { starts: 1, in: 1 h },
                  when: "event.state != 'cancelled'", with: { what: "${event.run}" } }""");
        TriggerTrial trial = api.trial(
                OLGA, "brook", "flows", new TriggerTrialBody(Map.of("state", "succeeded", "run", 7, "jb", "spring")));
        assertThat(trial.starts()).isTrue();
        assertThat(trial.with()).containsEntry("what", "7");
        assertThat(trial.unknown()).containsExactly("'jb' is no field of run.ended; did you mean 'job'?");
        assertThat(api.trial(OLGA, "brook", "flows", new TriggerTrialBody(Map.of("state", "cancelled")))
                        .why())
                .startsWith("its condition does not hold");
        assertThatThrownBy(() -> api.trial(VIEWER, "brook", "flows", new TriggerTrialBody(Map.of())))
                .hasMessageContaining("operator");
        assertThatThrownBy(() -> api.set(VIEWER, "brook", "flows", new TriggerSwitchBody(false)))
                .hasMessageContaining("operator");
        assertThatThrownBy(() -> api.show(OLGA, "brook", "flow")).hasMessageContaining("did you mean 'flows'");
        assertThat(api.set(OLGA, "brook", "flows", new TriggerSwitchBody(false)).offBy())
                .isEqualTo("olga");
        service.ended(service.start("spring"));
        assertThat(api.set(OLGA, "brook", "flows", new TriggerSwitchBody(true)).switchedOn())
                .isTrue();
        for (int i = 0; i < 3; i++) {
            service.ended(service.start("spring"));
        }
        assertThat(firings("brook", "flows", 3))
                .extracting(FiringView::outcome)
                .as("the one while it was off started nothing")
                .containsExactly("gathered", "started", "started");
        assertThat(firings("brook", "flows").get(1).why()).contains("at most 1 in 1 h");
        assertThat(firings("brook", "flows").get(0).run())
                .isEqualTo(firings("brook", "flows").get(1).run());
    }

    /** Calls a trigger's address. */
    private static HttpResponse<String> call(String address, String type, String body, String... headers)
            throws IOException, InterruptedException {
        HttpRequest.Builder request = HttpRequest.newBuilder(
                        URI.create("http://127.0.0.1:" + service.port() + "/api/v1/calls/" + address))
                .POST(HttpRequest.BodyPublishers.ofString(body));
        if (!type.isEmpty()) {
            request.header("Content-Type", type);
        }
        for (int i = 0; i < headers.length; i += 2) {
            request.header(headers[i], headers[i + 1]);
        }
        return HttpClient.newHttpClient().send(request.build(), HttpResponse.BodyHandlers.ofString());
    }

    private static JsonNode json(HttpResponse<String> answer) {
        return JsonMapper.shared().readTree(answer.body());
    }

    @Test
    @DisplayName("is called with a token, by JSON, form or CloudEvents, and starts once for a call that comes twice")
    void isCalled() throws Exception {
        listener(
                "sell",
                """
                { name: rung, on: call.received, token: kiosk, most-a-minute: 12,
                  with: { what: "${event.values.kiosk} ${event.values.order.id} ${event.kind}${event.subject}" } }""");
        String[] shown = {"Authorization", "Bearer " + TOKEN};
        String json = "{\"kiosk\": \"north\", \"order\": {\"id\": 7, \"lines\": [1, 2]}}";
        HttpResponse<String> first =
                call("sell/rung", "application/json", json, shown[0], shown[1], "Idempotency-Key", "k1");
        assertThat(first.statusCode()).isEqualTo(202);
        long run = json(first).path("run").asLong();
        assertThat(json(first).path("link").asString()).endsWith("/runs/" + run);
        assertThat(service.ended(service.found(run)).parameters()).containsEntry("what", "north 7 ");
        HttpResponse<String> again =
                call("sell/rung", "application/json", json, shown[0], shown[1], "Idempotency-Key", "k1");
        assertThat(again.statusCode()).isEqualTo(200);
        assertThat(json(again).path("run").asLong()).isEqualTo(run);
        assertThat(json(again).path("again").asBoolean()).isTrue();
        HttpResponse<String> form =
                call("sell/rung", "application/x-www-form-urlencoded", "kiosk=s%C3%BCd&order.id=8", shown[0], shown[1]);
        assertThat(service.found(json(form).path("run").asLong()).parameters()).containsEntry("what", "süd 8 ");
        String event =
                """
                {"specversion": "1.0", "id": "e1", "source": "/kiosks", "type": "sold", "subject": "-x",
                 "data": {"kiosk": "east", "order": {"id": 9}}}""";
        HttpResponse<String> structured = call("sell/rung", "application/cloudevents+json", event, shown[0], shown[1]);
        assertThat(service.found(json(structured).path("run").asLong()).parameters())
                .containsEntry("what", "east 9 sold-x");
        HttpResponse<String> binary = call(
                "sell/rung",
                "application/json",
                "{\"kiosk\": \"west\", \"order\": {\"id\": 1}}",
                shown[0],
                shown[1],
                "ce-specversion",
                "1.0",
                "ce-id",
                "e1",
                "ce-source",
                "/kiosks",
                "ce-type",
                "sold");
        assertThat(json(binary).path("again").asBoolean())
                .as("the same event by another way")
                .isTrue();
    }

    @Test
    @DisplayName("lets nobody in who does not show the token, says no more than that, and takes so many calls a minute")
    void letsNobodyElseIn() throws Exception {
        listener(
                "guarded",
                "{ name: rung, on: call.received, token: kiosk, most-a-minute: 6, with: { what: \"${event.values.kiosk} ${event.values.id}\" } }");
        String[] shown = {"Authorization", "Bearer " + TOKEN};
        assertThat(call("guarded/rung", "application/json", "{}", "Authorization", "Bearer wrong")
                        .statusCode())
                .isEqualTo(401);
        assertThat(call("guarded/rong", "", "", shown[0], shown[1]).body())
                .isEqualTo(call("guarded/rung", "", "").body().replace("rung", "rong"));
        assertThat(call("guarded/rung", "text/plain", "x", shown[0], shown[1]).statusCode())
                .isEqualTo(415);
        assertThat(call("guarded/rung", "application/json", "[1]", shown[0], shown[1])
                        .body())
                .contains("no object of JSON");
        assertThat(call("guarded/rung", "application/json", "{\"kiosk\": \"x\"}", shown[0], shown[1])
                        .body())
                .contains("refused");
        assertThat(call("guarded/rung", "application/json", " ".repeat(70_000), shown[0], shown[1])
                        .statusCode())
                .isEqualTo(413);
        String longOne = "{\"kiosk\": \"" + "x".repeat(12_000) + "\", \"id\": 1}";
        assertThat(call("guarded/rung", "application/json", longOne, shown[0], shown[1])
                        .body())
                .contains("refused", "too long");
        int tooMany = 0;
        for (int i = 0; i < 8; i++) {
            tooMany += call("guarded/rung", "application/json", "{", shown[0], shown[1])
                                    .statusCode()
                            == 429
                    ? 1
                    : 0;
        }
        assertThat(tooMany).isPositive();
        assertThat(api.show(EDITOR, "guarded", "rung").address()).endsWith("/api/v1/calls/guarded/rung");
    }

    @Test
    @DisplayName("is called with a signature that is fresh, over what was sent")
    void isSigned() throws Exception {
        listener(
                "pay-in",
                "{ name: paid, on: call.received, signature: signed, with: { what: \"${event.values.sum}\" } }");
        long now = Clock.systemUTC().instant().getEpochSecond();
        String body = "sum=12%2e50";
        record Case(long time, String over, int status) {}
        for (Case each : List.of(
                new Case(now, body, 202),
                new Case(now - 3_600, body, 401),
                new Case(now + 3_600, body, 401),
                new Case(now, body + "0", 401))) {
            HttpResponse<String> answer = call(
                    "pay-in/paid",
                    "application/x-www-form-urlencoded",
                    body,
                    "Gantrel-Time",
                    String.valueOf(each.time()),
                    "Gantrel-Signature",
                    "sha256=" + Hmac.hex(KEY, each.time() + "." + each.over()));
            assertThat(answer.statusCode()).as(each.toString()).isEqualTo(each.status());
        }
        assertThat(call("pay-in/paid", "", "").statusCode()).isEqualTo(401);
        assertThat(firings("pay-in", "paid", 1)).hasSize(1);
        assertThat(runs("pay-in", "paid").get(0).parameters()).containsEntry("what", "12.50");
    }

    private static Map<String, Long> counted(String job, String trigger) {
        return runs(job, trigger).stream()
                .collect(Collectors.groupingBy(
                        run -> run.parameters().get("what"), TreeMap::new, Collectors.counting()));
    }

    @Test
    @DisplayName(
            "hears of each file once: dropped, written slowly, renamed, replaced, many at once, while the service is away")
    void hearsOfFiles() throws Exception {
        Files.writeString(drop.resolve("old.csv"), "was there");
        listener(
                "take-in",
                """
                { name: came, on: file.arrived, under: %s, matching: "*.csv", settled: 1 s,
                  with: { what: "${event.stem} ${event.size}" } }"""
                        .formatted(drop));
        Await.until(
                "it looked", () -> api.show(OLGA, "take-in", "came").trigger().lookedAt() != null);
        Files.writeString(drop.resolve("one.csv"), "1");
        Files.writeString(drop.resolve("half.csv"), "x");
        Files.writeString(drop.resolve("other.txt"), "no");
        Files.writeString(drop.resolve("hidden.tmp"), "moved");
        Files.move(drop.resolve("hidden.tmp"), drop.resolve("moved.csv"), StandardCopyOption.ATOMIC_MOVE);
        for (int i = 0; i < 300; i++) {
            Files.writeString(drop.resolve("many-" + i + ".csv"), "");
        }
        Files.writeString(drop.resolve("half.csv"), "whole");
        Map<String, Long> wanted = new HashMap<>(Map.of("one 1", 1L, "half 5", 1L, "moved 5", 1L));
        for (int i = 0; i < 300; i++) {
            wanted.put("many-" + i + " 0", 1L);
        }
        Await.until("all have started", () -> runs("take-in", "came").size() >= 303);
        service.close();
        Files.writeString(drop.resolve("away.csv"), "while away");
        Files.delete(drop.resolve("one.csv"));
        service.open();
        api = service.bean(TriggerApi.class);
        Await.until(
                "what came meanwhile is found", () -> runs("take-in", "came").size() >= 304);
        Files.writeString(drop.resolve("moved.csv"), "another one");
        Await.until(
                "what took its place is found", () -> runs("take-in", "came").size() >= 305);
        wanted.put("away 10", 1L);
        wanted.put("moved 11", 1L);
        assertThat(counted("take-in", "came")).isEqualTo(wanted);
    }

    @Test
    @DisplayName("hears of what changes, goes, ages and stays away in a folder, each once")
    void hearsOfMore() throws Exception {
        Path place = Files.createDirectory(folder.resolve("place"));
        Files.writeString(place.resolve("stays.csv"), "1");
        Files.writeString(place.resolve("goes.csv"), "1");
        service.task(
                "observe",
                "true",
                """
                parameters: { what: { type: text, default: none } }
                while-running: 9
                triggers:
                  - { name: changed, on: file.changed, under: %1$s, settled: 1 s, with: { what: "changed ${event.name}" } }
                  - { name: gone, on: file.gone, under: %1$s, with: { what: "gone ${event.name}" } }
                  - { name: aged, on: file.aged, under: %1$s, age: 1 s, matching: stays.csv, look-every: 1 s, with: { what: "aged ${event.stem}" } }
                  - { name: silent, on: folder.silent, under: %1$s, for: 3 s, matching: "*.never", look-every: 1 s, with: { what: "silent ${event.folder}" } }
                """
                        .formatted(place));
        for (String name : List.of("changed", "gone", "aged", "silent")) {
            Await.until(
                    name + " looked",
                    () -> api.show(OLGA, "observe", name).trigger().lookedAt() != null);
        }
        Files.writeString(place.resolve("stays.csv"), "longer than before");
        Files.delete(place.resolve("goes.csv"));
        assertThat(firings("observe", "changed", 1)).hasSize(1);
        assertThat(counted("observe", "changed")).isEqualTo(Map.of("changed stays.csv", 1L));
        assertThat(firings("observe", "gone", 1)).hasSize(1);
        assertThat(counted("observe", "gone")).isEqualTo(Map.of("gone goes.csv", 1L));
        assertThat(firings("observe", "aged", 1)).isNotEmpty();
        assertThat(counted("observe", "aged")).containsOnlyKeys("aged stays");
        assertThat(firings("observe", "silent", 1)).hasSize(1);
        assertThat(counted("observe", "silent")).isEqualTo(Map.of("silent " + place, 1L));
    }

    @Test
    @DisplayName("hears of what the installation, a team's things and its own schedules do")
    void hearsOfTheRest() {
        service.task(
                "rest",
                "true",
                """
                parameters: { what: { type: text, default: none } }
                while-running: 9
                triggers:
                  - { name: token, on: token.refused, with: { what: "${event.type} ${event.message}" } }
                  - { name: calendar, on: calendar.changed, with: { what: "${event.name} ${event.what}" } }
                  - { name: credential, on: credential.changed, with: { what: "${event.name} ${event.what}" } }
                  - { name: job, on: job.changed, of: "made-*", with: { what: "${event.job} ${event.revision}" } }
                  - { name: recovered, on: job.recovered, of: "made-*", with: { what: "${event.job} is ${event.state}" } }
                  - { name: begun, on: run.started, of: "made-*", with: { what: "${event.job} ${event.cause}" } }
                """);
        service.define("calendar: made-days\nteam: revenue\ndays: monday\n");
        keep("made-key", CredentialKind.SECRET, "value", "x");
        service.task("made-job", "exit 3", "");
        service.ended(service.start("made-job"));
        Await.until("it has begun", () -> !firings("rest", "begun").isEmpty());
        service.task("made-job", "exit 0", "");
        service.ended(service.start("made-job"));
        HttpRequest refused = HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + service.port() + "/api/v1/jobs"))
                .header("Authorization", "Bearer gt_nobody")
                .build();
        assertThatCode(() -> HttpClient.newHttpClient().send(refused, HttpResponse.BodyHandlers.ofString()))
                .doesNotThrowAnyException();
        assertThat(firings("rest", "token", 1)).isNotEmpty();
        assertThat(counted("rest", "token"))
                .containsOnlyKeys("token.refused a token that nobody has any more was shown");
        firings("rest", "calendar", 1);
        assertThat(counted("rest", "calendar")).containsOnlyKeys("made-days changed");
        firings("rest", "credential", 1);
        assertThat(counted("rest", "credential")).containsKey("made-key created");
        firings("rest", "job", 2);
        assertThat(counted("rest", "job")).containsOnlyKeys("made-job 1", "made-job 2");
        firings("rest", "recovered", 1);
        assertThat(counted("rest", "recovered")).containsOnlyKeys("made-job is succeeded");
        firings("rest", "begun", 2);
        assertThat(counted("rest", "begun")).containsOnlyKeys("made-job person");
    }

    @Test
    @DisplayName("says that its folder is not there, and watches it when it comes; a marker says that a file is whole")
    void waitsForFolder() throws Exception {
        Path later = folder.resolve("later");
        listener(
                "mark",
                "{ name: came, on: file.arrived, under: %s, marker: .ok, look-every: 1 s, with: { what: \"${event.name}\" } }"
                        .formatted(later));
        Await.until("it says so", () -> api.show(OLGA, "mark", "came").trigger().trouble() != null);
        assertThat(api.show(OLGA, "mark", "came").trigger().trouble()).contains("there is no folder " + later);
        Path made = Files.createDirectory(folder.resolve("made"));
        Files.writeString(made.resolve("a"), "1");
        Files.writeString(made.resolve("c"), "3");
        Files.writeString(made.resolve("c.ok"), "");
        Files.move(made, later);
        Await.until("it looked", () -> api.show(OLGA, "mark", "came").trigger().lookedAt() != null);
        Files.writeString(later.resolve("b"), "2");
        Files.writeString(later.resolve("b.ok"), "");
        assertThat(firings("mark", "came", 2)).hasSize(2);
        assertThat(counted("mark", "came"))
                .as("what was in the folder when it came has come with it")
                .isEqualTo(Map.of("b", 1L, "c", 1L));
    }
}
