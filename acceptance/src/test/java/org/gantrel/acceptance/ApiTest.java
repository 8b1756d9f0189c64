package org.gantrel.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.icegreen.greenmail.util.GreenMail;
import com.icegreen.greenmail.util.GreenMailUtil;
import com.icegreen.greenmail.util.ServerSetup;
import jakarta.mail.internet.MimeMessage;
import java.net.ServerSocket;
import java.nio.file.Files;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

@DisplayName("The API")
class ApiTest {

    private static Service service;
    private static Http admin;
    private static Work work;
    private static int mailPort;

    @BeforeAll
    static void begin() throws Exception {
        try (ServerSocket free = new ServerSocket(0)) {
            mailPort = free.getLocalPort();
        }
        service = Service.fresh(
                "--mail-host",
                "127.0.0.1",
                "--mail-port",
                String.valueOf(mailPort),
                "--mail-from",
                "gantrel@example.org",
                "--runs-at-once",
                "2");
        admin = Work.settle(service);
        work = new Work()
                .program("say.sh", "echo $1; exit ${2:-0}")
                .program("wait.sh", "echo waiting; until [ -e go-$1 ]; do sleep 0.05; done; echo gone on; sleep 0.3");
        admin.bringIn(
                        """
                task: say
                team: revenue
                parameters: { what: { type: text, default: hello }, code: { type: number, default: 0 } }
                does: { command: [ ./say.sh, "${what}", "${code}" ], in: %1$s }
                exit-codes: { succeeded: [ 0, 4 ], warned: [ 3 ] }
                ---
                task: hold
                team: revenue
                while-running: 9
                parameters: { on: { type: text } }
                does: { command: [ ./wait.sh, "${on}" ], in: %1$s }
                ---
                task: short
                team: revenue
                does: { command: [ sleep, "60" ] }
                time-limit: PT1S
                ---
                task: loud
                team: revenue
                about: Tells when it fails
                parameters: { key: { type: secret, about: covered } }
                does: { shell: "echo one; echo two ${key}; exit 7", in: %1$s }
                notify: { failed: [ duty@example.org, revenue@example.org ] }
                """
                                .formatted(work.folder()))
                .expect(200);
    }

    @AfterAll
    static void end() {
        service.close();
    }

    private static JsonNode run(String job, Map<String, ?> values) {
        return service.ended(admin, admin.start(job, values));
    }

    @Test
    @DisplayName("gives a run with everything that is known of it")
    void givesARun() {
        JsonNode run = run("say", Map.of("what", "good morning", "code", 3));
        assertThat(run.path("state").asString()).isEqualTo("warned");
        assertThat(run.path("parameters")).isEqualTo(Http.JSON.readTree("{\"what\":\"good morning\",\"code\":\"3\"}"));
        assertThat(run.path("message").asString())
                .isEqualTo("exit code 3, which this job counts as a warning: good morning");
        assertThat(run.propertyNames())
                .contains(
                        "number",
                        "job",
                        "team",
                        "cause",
                        "causeRef",
                        "plannedAt",
                        "queuedAt",
                        "startedAt",
                        "finishedAt",
                        "took",
                        "actsAs",
                        "attempt",
                        "exitCode",
                        "revision",
                        "timeline",
                        "sentence",
                        "logBytes");
        assertThat(run.path("attempt").asInt()).isEqualTo(1);
        assertThat(run.path("plannedAt").asString()).matches("20\\d\\d-\\d\\d-\\d\\dT\\d\\d:\\d\\d:\\d\\d(\\.\\d+)?Z");
        assertThat(Duration.parse(run.path("took").asString())).isPositive();
        assertThat(run("say", Map.of("code", 4)).path("state").asString()).isEqualTo("succeeded");
        assertThat(run("say", Map.of("code", 1)).path("state").asString()).isEqualTo("failed");
    }

    @Test
    @DisplayName("pages with a link to what is older, in which nothing moves when more comes in")
    void pages() {
        for (int i = 0; i < 5; i++) {
            run("say", Map.of("what", "page " + i));
        }
        Http.Answer first = admin.get("/api/v1/runs?job=say&q=page&limit=2").expect(200);
        assertThat(first.header("Link")).matches("</api/v1/runs\\?.*after=\\d+.*>; rel=\"next\"");
        run("say", Map.of("what", "page 9"));
        assertThat(pages(first).map(run -> run.path("number").asLong()))
                .hasSize(5)
                .doesNotHaveDuplicates()
                .isSortedAccordingTo(Comparator.reverseOrder());
        assertThat(pages(admin.get("/api/v1/runs?job=say&q=page&limit=4&sort=-took"))
                        .map(run -> Duration.parse(run.path("took").asString())))
                .hasSize(6)
                .isSortedAccordingTo(Comparator.reverseOrder());
        assertThat(pages(admin.get("/api/v1/changes?limit=30&sort=deed"))
                        .map(change -> change.path("deed").asString()))
                .isSorted();
        assertThat(pages(admin.get("/api/v1/deliveries?limit=30&sort=-tries"))
                        .map(delivery -> delivery.path("tries").asInt()))
                .isSortedAccordingTo(Comparator.reverseOrder());
        assertThat(admin.get("/api/v1/runs?sort=tok").expect(422).text()).contains("did you mean 'took'");
    }

    /** The rows of a page and of all that come after it. */
    private static Stream<JsonNode> pages(Http.Answer first) {
        List<JsonNode> rows = new ArrayList<>();
        first.expect(200).body().forEach(rows::add);
        for (String link = first.header("Link"); !link.isEmpty(); ) {
            Http.Answer next = admin.get(link.replaceAll("<([^>]+)>.*", "$1")).expect(200);
            next.body().forEach(rows::add);
            link = next.header("Link");
        }
        return rows.stream();
    }

    @Test
    @DisplayName("starts once however often it is asked under one key")
    void startsOnceUnderAKey() {
        Http keyed = admin.with("Idempotency-Key", "night-1");
        Map<String, ?> body = Map.of("parameters", Map.of("what", "once"));
        long first = keyed.post("/api/v1/jobs/say/runs", body)
                .expect(201)
                .body()
                .path("number")
                .asLong();
        long second = keyed.post("/api/v1/jobs/say/runs", body)
                .expect(201)
                .body()
                .path("number")
                .asLong();
        assertThat(second).isEqualTo(first);
        assertThat(keyed.post("/api/v1/jobs/say/runs", Map.of("parameters", Map.of("what", "other")))
                        .expect(409)
                        .detail())
                .contains("take a new key");
    }

    @Test
    @DisplayName("runs no more at once than it may, and says what the others wait for")
    void runsNoMoreAtOnceThanItMay() {
        long one = admin.start("hold", Map.of("on", "a"));
        long two = admin.start("hold", Map.of("on", "a"));
        long three = admin.start("hold", Map.of("on", "a"));
        long four = admin.start("hold", Map.of("on", "a"));
        Await.until("one waits", () -> admin.get("/api/v1/runs/" + three).body().has("waitingFor"));
        JsonNode waiting = admin.get("/api/v1/runs/" + three).body();
        assertThat(waiting.path("state").asString()).isEqualTo("waiting");
        assertThat(waiting.path("waitingFor").asString()).isEqualTo("a free place: 2 of 2 commands are running");
        assertThat(admin.get("/metrics").text())
                .contains("gantrel_commands 2.0")
                .contains("gantrel_queue 2.0");
        JsonNode cancelled = admin.post("/api/v1/runs/" + four + "/cancellation", null)
                .expect(200)
                .body();
        assertThat(cancelled.path("state").asString()).isEqualTo("cancelled");
        assertThat(cancelled.path("message").asString()).isEqualTo("cancelled by admin before it started");
        work.write("go-a", "");
        for (long number : List.of(one, two, three)) {
            assertThat(service.ended(admin, number).path("state").asString()).isEqualTo("succeeded");
        }
    }

    @Test
    @DisplayName("stops a run that is cancelled, and one that reaches its time limit, with all that they started")
    void stopsRuns() {
        long number = admin.start("hold", Map.of("on", "never"));
        Await.until(
                "it runs",
                () -> admin.get("/api/v1/runs/" + number + "/log").text().contains("waiting"));
        admin.post("/api/v1/runs/" + number + "/cancellation", null).expect(200);
        JsonNode cancelled = service.ended(admin, number);
        assertThat(cancelled.path("state").asString()).isEqualTo("cancelled");
        assertThat(cancelled.path("message").asString()).isEqualTo("cancelled by admin");
        assertThat(cancelled.path("timeline").toString()).contains("asked to stop by admin");
        // 15, not 9: it was asked, and not ended by force
        assertThat(cancelled.path("exitCode").asInt()).isEqualTo(143);
        admin.post("/api/v1/runs/" + number + "/cancellation", null).expect(409);
        JsonNode limited = run("short", Map.of());
        assertThat(limited.path("state").asString()).isEqualTo("timed-out");
        assertThat(limited.path("message").asString()).isEqualTo("stopped at its time limit of 1.0 s");
        admin.bringIn(
                        "chain: holds\nteam: revenue\nsteps: [ { job: hold, with: { on: never } }, { step: b, job: say } ]")
                .expect(200);
        long chain = admin.start("holds", Map.of());
        Await.until("its step runs", () -> admin.get("/api/v1/runs/" + chain)
                .body()
                .path("steps")
                .path(0)
                .path("state")
                .asString("")
                .equals("running"));
        admin.post("/api/v1/runs/" + chain + "/cancellation", null).expect(200);
        JsonNode stopped = service.ended(admin, chain);
        assertThat(stopped.path("state").asString()).isEqualTo("cancelled");
        assertThat(stopped.path("steps").get(0).path("state").asString()).isEqualTo("cancelled");
        assertThat(stopped.path("steps").get(1).path("state").asString()).isEqualTo("out-of-reach");
    }

    @Test
    @DisplayName("tells of changes as they happen, and of a log as it grows")
    void tellsLive() throws Exception {
        CompletableFuture<List<String>> heard = CompletableFuture.supplyAsync(() -> {
            try (var lines = admin.lines("/api/v1/events")) {
                var seen = new ArrayList<String>();
                lines.takeWhile(line -> seen.stream().noneMatch(said -> said.contains("\"state\":\"succeeded\"")))
                        .forEach(seen::add);
                return seen;
            }
        });
        Await.until("somebody may watch", () -> admin.get("/api/v1/health").status() == 200);
        long number = admin.start("hold", Map.of("on", "live"));
        CompletableFuture<List<String>> log = CompletableFuture.supplyAsync(() -> {
            try (var lines = admin.lines("/api/v1/runs/" + number + "/log/events")) {
                return lines.toList();
            }
        });
        Await.until(
                "it runs",
                () -> admin.get("/api/v1/runs/" + number + "/log").text().contains("waiting"));
        work.write("go-live", "");
        assertThat(log.get(Await.PATIENCE.toSeconds(), TimeUnit.SECONDS).stream()
                        .filter(line -> !line.isEmpty()))
                .anySatisfy(line -> assertThat(line).startsWith("data:").contains("waiting"))
                .anySatisfy(line -> assertThat(line).contains("gone on"))
                .contains("event:end", "data:[\"succeeded\"]");
        assertThat(heard.get(Await.PATIENCE.toSeconds(), TimeUnit.SECONDS))
                .contains("event:run.changed")
                .anySatisfy(line -> assertThat(line).contains("\"job\":\"hold\""));
    }

    @Test
    @DisplayName("lets mails about a failure wait until the mail server is there, then sends each once")
    void sendsMails() throws Exception {
        JsonNode failed = run("loud", Map.of("key", "s3cret-word"));
        long number = failed.path("number").asLong();
        Await.until(
                "the first try failed",
                () -> admin.get("/api/v1/deliveries").body().toString().contains("lastError"));
        var mail = new GreenMail(new ServerSetup(mailPort, "127.0.0.1", ServerSetup.PROTOCOL_SMTP));
        mail.start();
        try {
            Await.until("both are sent", () -> admin.get("/api/v1/deliveries")
                    .body()
                    .valueStream()
                    .filter(row -> row.path("run").asLong() == number)
                    .allMatch(row -> row.path("state").asString().equals("sent")));
            MimeMessage[] received = mail.getReceivedMessages();
            assertThat(received).hasSize(2);
            assertThat(received[0].getSubject()).isEqualTo("loud failed (run " + number + ")");
            assertThat(GreenMailUtil.getBody(received[0]))
                    .contains("loud failed: exit code 7: two")
                    .contains("What it is for: Tells when it fails")
                    .contains("/runs/" + number)
                    .contains("The end of its log:")
                    .contains("  one")
                    .doesNotContain("s3cret-word");
            run("say", Map.of("code", 1));
            assertThat(mail.getReceivedMessages()).hasSize(2);
        } finally {
            mail.stop();
        }
    }

    @Test
    @DisplayName("describes itself in OpenAPI 3.1, and the console's types are made from just that")
    void describesItself() throws Exception {
        Http.Answer document =
                Http.unsigned(service.url()).get("/api/openapi.json").expect(200);
        assertThat(document.body().path("openapi").asString()).startsWith("3.1");
        JsonNode committed = Http.JSON.readTree(Files.readString(Shell.ROOT.resolve("console/openapi.json")));
        assertThat(document.body())
                .as("console/openapi.json is old; fetch it anew from /api/openapi.json")
                .isEqualTo(committed);
    }

    @Test
    @DisplayName("measures itself for Prometheus")
    void measuresItself() {
        admin.bringIn(work.task("ticking", "./say.sh", Work.OFTEN)).expect(200);
        Await.until(
                "a scheduled run ended",
                () -> admin.get("/metrics").text().matches("(?s).*gantrel_start_lag_seconds_count [1-9].*"));
        admin.put("/api/v1/jobs/ticking/schedules/often/switch", Map.of("on", false))
                .expect(200);
        Http.Answer metrics = admin.get("/metrics").expect(200);
        assertThat(metrics.header("Content-Type")).startsWith("text/plain").contains("version=0.0.4");
        assertThat(metrics.text())
                .contains("# HELP gantrel_runs Runs by state")
                .containsPattern("gantrel_runs\\{state=\"succeeded\"} [1-9]")
                .containsPattern("gantrel_run_duration_seconds_count\\{outcome=\"succeeded\"} [1-9]");
    }
}
