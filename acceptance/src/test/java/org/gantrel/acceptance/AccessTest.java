package org.gantrel.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.JsonNode;

@DisplayName("Who may do what")
class AccessTest extends OneService {

    private static final String PASSWORD = "a-long-password";

    @BeforeAll
    static void begin() {
        admin.post("/api/v1/teams", Map.of("name", "fleet", "about", "Vessels")).expect(201);
        for (String role : List.of("viewer", "operator", "editor", "manager")) {
            admin.post("/api/v1/people", Map.of("name", role, "fullName", role, "password", PASSWORD))
                    .expect(201);
            admin.put("/api/v1/teams/revenue/members/" + role, Map.of("role", role))
                    .expect(200);
        }
        admin.post("/api/v1/people", Map.of("name", "outsider", "fullName", "", "password", PASSWORD))
                .expect(201);
        work.program("say.sh", "echo \"the key is $KEY\"; sleep ${1:-0}");
        admin.bringIn(
                        """
                task: say
                team: revenue
                parameters:
                  key: { type: secret }
                  long: { type: number, default: 0 }
                does: { command: [ ./say.sh, "${long}" ], in: %s, environment: { KEY: "${key}" } }
                ---
                task: yearly
                team: revenue
                does: { command: [ "true" ] }
                schedules: [ { name: yearly, when: 0 0 1 1 *, zone: UTC } ]
                """
                                .formatted(work.folder()))
                .expect(200);
    }

    @Test
    @DisplayName("how somebody likes things to be shown is kept for them alone, within bounds")
    void choices() {
        String mine = "/api/v1/me/choices/";
        Http viewer = Http.signedIn(service.url(), "viewer", PASSWORD);
        viewer.put(mine + "dates", Map.of("chosen", "iso")).expect(200);
        assertThat(viewer.get("/api/v1/me").body().path("choices").path("dates").asString())
                .isEqualTo("iso");
        assertThat(admin.get("/api/v1/me").body().path("choices")).isEmpty();
        assertThat(viewer.put(mine + "Dates!", Map.of("chosen", "x".repeat(2_001)))
                        .expect(422)
                        .body()
                        .path("problems"))
                .hasSize(2);
        for (int i = 1; i < 200; i++) {
            viewer.put(mine + "c" + i, Map.of("chosen", "x")).expect(200);
        }
        viewer.put(mine + "one-more", Map.of("chosen", "x")).expect(422);
        viewer.put(mine + "dates", Map.of("chosen", "words")).expect(200);
        viewer.put(mine + "dates", Map.of("chosen", "")).expect(200);
        assertThat(viewer.put(mine + "one-more", Map.of("chosen", "x"))
                        .expect(200)
                        .body())
                .hasSize(200);
    }

    @ParameterizedTest(name = "{0}: see {1}, start {2}, switch {3}, define {4}, retire {5}, members {6}, people {7}")
    @CsvSource({
        "outsider, 404, 404, 404, 422, 404, 403, 403",
        "viewer,   200, 403, 403, 422, 403, 403, 403",
        "operator, 200, 201, 200, 422, 403, 403, 403",
        "editor,   200, 201, 200, 200, 403, 403, 403",
        "manager,  200, 201, 200, 200, 204, 200, 403"
    })
    void eachRoleMayDoItsDeeds(
            String who, int see, int start, int turn, int define, int retire, int members, int people) {
        Http http = service.as(who, PASSWORD);
        assertThat(http.get("/api/v1/jobs/say").status()).isEqualTo(see);
        assertThat(http.post("/api/v1/jobs/say/runs", Map.of("parameters", Map.of("key", "abcd")))
                        .status())
                .isEqualTo(start);
        assertThat(http.put("/api/v1/jobs/yearly/schedules/yearly/switch", Map.of("on", true))
                        .status())
                .isEqualTo(turn);
        assertThat(http.bringIn(work.task("by-" + who, "./say.sh", "")).status())
                .isEqualTo(define);
        admin.bringIn(work.task("by-" + who, "./say.sh", "")).expect(200);
        assertThat(http.send("DELETE", "/api/v1/jobs/by-" + who, null).status()).isEqualTo(retire);
        assertThat(http.put("/api/v1/teams/revenue/members/viewer", Map.of("role", "viewer"))
                        .status())
                .isEqualTo(members);
        assertThat(http.get("/api/v1/people").status()).isEqualTo(people);
        assertThat(http.get("/metrics").status()).isEqualTo(403);
    }

    @Test
    @DisplayName("is asked at every call of the API but the few that are open")
    void everyCallIsChecked() {
        JsonNode paths = Http.unsigned(service.url())
                .get("/api/openapi.json")
                .expect(200)
                .body()
                .path("paths");
        Set<String> open = Set.of(
                "GET /api/v1/health",
                "GET /api/v1/health/ready",
                "POST /api/v1/sessions",
                "GET /api/v1/feeds/{token}/ics");
        var answered = new ArrayList<String>();
        paths.forEachEntry((path, calls) -> calls.propertyNames().forEach(method -> {
            String call = method.toUpperCase(Locale.ROOT) + " " + path;
            String real = path.replaceAll("\\{(number|id|revision)}", "1").replaceAll("\\{\\w+}", "x");
            Http.Answer answer = Http.unsigned(service.url()).send(call.split(" ")[0], real, null);
            if (answer.status() != 401 && !open.contains(call)) {
                answered.add(call + " " + answer.status());
            }
        }));
        assertThat(paths.size()).isGreaterThan(25);
        assertThat(answered).isEmpty();
        assertThat(Http.unsigned(service.url())
                        .with("Authorization", "Bearer made-up")
                        .get("/api/v1/runs")
                        .status())
                .isEqualTo(401);
    }

    @Test
    @DisplayName("does not show in what a team may not see: lists, searches, runs and events leave it out")
    void otherTeamsSeeNothing() {
        long number = admin.start("say", Map.of("key", "abcd"));
        service.ended(admin, number);
        Http outsider = service.as("outsider", PASSWORD);
        assertThat(outsider.get("/api/v1/runs").expect(200).body()).isEmpty();
        assertThat(outsider.get("/api/v1/runs?team=revenue").status()).isEqualTo(404);
        assertThat(outsider.get("/api/v1/runs/" + number).status()).isEqualTo(404);
        assertThat(outsider.get("/api/v1/runs/" + number + "/log").status()).isEqualTo(404);
        assertThat(outsider.get("/api/v1/jobs").expect(200).body()).isEmpty();
        assertThat(outsider.get("/api/v1/schedules").expect(200).body()).isEmpty();
        assertThat(outsider.get("/api/v1/teams").expect(200).body()).isEmpty();
        assertThat(outsider.get("/api/v1/changes").expect(200).body()).isEmpty();
        assertThat(outsider.get("/api/v1/today")
                        .expect(200)
                        .body()
                        .path("sentence")
                        .asString())
                .startsWith("No runs");
    }

    @Test
    @DisplayName("reaches as far as the jobs that a chain would start, however deep they are in it")
    void chainsReachNoFurther() {
        admin.bringIn("task: fuel\nteam: fleet\ndoes: { command: [ \"true\" ] }\n---\n"
                        + "chain: bunker\nteam: revenue\nsteps: [ { job: fuel } ]\n")
                .expect(200);
        String close = "chain: close\nteam: revenue\nsteps: [ { job: yearly }, { job: bunker } ]\n";
        Http editor = service.as("editor", PASSWORD);
        assertThat(editor.bringIn(close).expect(422).text())
                .contains("the chain would start a job that you may not start, in a chain within it")
                .doesNotContain("fuel");
        admin.put("/api/v1/teams/fleet/members/editor", Map.of("role", "viewer"))
                .expect(200);
        assertThat(editor.bringIn(close).expect(422).detail())
                .contains("the chain would start the job fuel, which takes the role operator in the team fleet");
        admin.bringIn(close).expect(200);
        for (String call : List.of("runs", "rehearsal")) {
            assertThat(editor.post("/api/v1/jobs/close/" + call, Map.of()).status())
                    .as(call)
                    .isEqualTo(403);
        }
        admin.put("/api/v1/teams/fleet/members/editor", Map.of("role", "operator"))
                .expect(200);
        editor.bringIn(close).expect(200);
        editor.post("/api/v1/jobs/close/runs", Map.of()).expect(201);
    }

    @Test
    @DisplayName("by cookie needs the page's own token as well, so that no other page can act in its place")
    void cookiesNeedTheToken() {
        Http browser = Http.unsigned(service.url());
        Http.Answer session = browser.post("/api/v1/sessions", Map.of("name", "operator", "password", PASSWORD))
                .expect(200);
        String cookie = session.header("Set-Cookie");
        assertThat(cookie).contains("gantrel-session=").contains("HttpOnly").contains("SameSite=Strict");
        assertThat(session.text()).doesNotContain("token");
        Http signedIn = browser.with("Cookie", cookie.split(";")[0]);
        Http.Answer me = signedIn.get("/api/v1/me").expect(200);
        String csrf = me.body().path("csrf").asString();
        assertThat(me.header("Set-Cookie")).startsWith("gantrel-csrf=" + csrf);
        assertThat(browser.with("Cookie", cookie.split(";")[0] + "; gantrel-csrf=" + csrf)
                        .get("/api/v1/me")
                        .header("Set-Cookie"))
                .isEmpty();
        Map<String, ?> start = Map.of("parameters", Map.of("key", "abcd"));
        assertThat(signedIn.post("/api/v1/jobs/say/runs", start).expect(403).detail())
                .contains("X-Gantrel-CSRF");
        browser.with("Cookie", cookie.split(";")[0] + "; gantrel-csrf=" + csrf)
                .with("X-Gantrel-CSRF", csrf)
                .post("/api/v1/jobs/say/runs", start)
                .expect(201);
        Http out = browser.with("Cookie", cookie.split(";")[0] + "; gantrel-csrf=" + csrf)
                .with("X-Gantrel-CSRF", csrf);
        out.send("DELETE", "/api/v1/sessions/current", null).expect(204);
        assertThat(signedIn.get("/api/v1/me").status()).isEqualTo(401);
    }

    @Test
    @DisplayName("cannot be guessed at: wrong tries are slowed down, and say nothing of whether the name exists")
    void guessingIsSlowedDown() {
        Http http = Http.unsigned(service.url());
        Map<String, String> wrong = Map.of("name", "admin-of-old", "password", "guess-guess");
        admin.post("/api/v1/people", Map.of("name", "admin-of-old", "password", PASSWORD))
                .expect(201);
        String known = http.post("/api/v1/sessions", wrong).expect(401).detail();
        String unknown = http.post("/api/v1/sessions", Map.of("name", "nobody", "password", "guess-guess"))
                .expect(401)
                .detail();
        assertThat(known).isEqualTo(unknown).contains("the name or the password is wrong");
        Http.Answer last = null;
        for (int i = 0; i < 6; i++) {
            last = http.post("/api/v1/sessions", wrong);
        }
        assertThat(last.expect(429).detail()).contains("try again in");
        assertThat(http.post("/api/v1/sessions", Map.of("name", "viewer", "password", PASSWORD))
                        .status())
                .isEqualTo(200);
    }

    @Test
    @DisplayName("and what a browser may do with an answer is said in its headers")
    void headersKeepBrowsersCareful() {
        Http.Answer page = Http.unsigned(service.url()).get("/");
        String policy = page.header("Content-Security-Policy");
        assertThat(policy)
                .contains("default-src 'none'")
                .contains("script-src 'self'")
                .contains("'nonce-");
        assertThat(policy).doesNotContain("unsafe").contains("frame-ancestors 'none'");
        assertThat(page.text()).contains(policy.replaceAll(".*'nonce-([^']+)'.*", "$1"));
        Http.Answer api = admin.get("/api/v1/runs");
        assertThat(api.header("Content-Security-Policy")).contains("default-src 'none'");
        assertThat(api.header("X-Content-Type-Options")).isEqualTo("nosniff");
        assertThat(api.header("X-Frame-Options")).isEqualTo("DENY");
        assertThat(api.header("Referrer-Policy")).isEqualTo("no-referrer");
        assertThat(api.header("Cache-Control")).contains("no-store");
        assertThat(api.header("Server")).isEmpty();
    }

    @Test
    @DisplayName(
            "never lets a secret out: not in an answer, not in the log, not in the database, not in the audit record")
    void secretsStayIn() throws Exception {
        String secret = "xyzzy-4711-plugh";
        long number = admin.start("say", Map.of("key", secret));
        service.ended(admin, number);
        assertThat(admin.get("/api/v1/runs/" + number + "/log").text()).isEqualTo("the key is ••••••\n");
        for (String path : List.of(
                "/api/v1/runs/" + number, "/api/v1/runs?q=say", "/api/v1/changes", "/api/v1/jobs/say", "/metrics")) {
            assertThat(admin.get(path).expect(200).text()).doesNotContain(secret);
        }
        assertThat(service.said()).doesNotContain(secret);
        long again = admin.post("/api/v1/runs/" + number + "/repeats", null)
                .expect(201)
                .body()
                .path("number")
                .asLong();
        service.ended(admin, again);
        assertThat(admin.get("/api/v1/runs/" + again + "/log").text()).isEqualTo("the key is ••••••\n");
        try (Stream<Path> files = Files.list(service.data())) {
            for (Path file : files.filter(Files::isRegularFile).toList()) {
                assertThat(new String(Files.readAllBytes(file), StandardCharsets.ISO_8859_1))
                        .as(file.toString())
                        .doesNotContain(secret);
            }
        }
        assertThat(Files.getPosixFilePermissions(service.data().resolve("key")).toString())
                .doesNotContain("GROUP")
                .doesNotContain("OTHERS");
    }

    @ParameterizedTest(name = "{0}: define a calendar {1}, change it {2}, retire it {3}, use it {4}, see it {5}")
    @CsvSource({
        "outsider, 422, 403, 403, 422, 200",
        "viewer,   422, 403, 403, 422, 200",
        "operator, 422, 403, 403, 422, 200",
        "editor,   201, 200, 204, 200, 200",
        "manager,  201, 200, 204, 200, 200"
    })
    @DisplayName("calendars are seen by all and changed by the editors of their team")
    void calendars(String person, int define, int change, int retire, int use, int see) {
        Http http = service.as(person, PASSWORD);
        String own = "calendar: of-" + person + "\nteam: revenue\n";
        assertThat(http.post("/api/v1/calendars", Map.of("definition", own)).status())
                .isEqualTo(define);
        String shared = "calendar: shared-" + person + "\nteam: revenue\ndays: weekdays\n";
        admin.bringIn(shared).expect(200);
        String path = "/api/v1/calendars/shared-" + person;
        assertThat(http.get(path).status()).isEqualTo(see);
        assertThat(http.get("/api/v1/calendars").body().toString()).contains("shared-" + person);
        String job = work.task(
                "kept-" + person,
                "\"true\"",
                "schedules: [ { name: s, when: every day at 05:00, zone: UTC, except: shared-" + person + " } ]");
        assertThat(http.bringIn(job).status()).isEqualTo(use);
        assertThat(http.with("If-Match", "*")
                        .put(path, Map.of("definition", shared + "about: changed\n"))
                        .status())
                .isEqualTo(change);
        if (use == 200) {
            assertThat(http.send("DELETE", path, null).expect(409).detail()).contains("kept-" + person + " / s");
            admin.send("DELETE", "/api/v1/jobs/kept-" + person, null).expect(204);
        }
        assertThat(http.send("DELETE", path, null).status()).isEqualTo(retire);
    }

    @Test
    @DisplayName("a feed shows no more than its maker may see, and nothing once the account is shut")
    void feeds() {
        admin.post("/api/v1/people", Map.of("name", "commuter", "fullName", "", "password", PASSWORD))
                .expect(201);
        admin.put("/api/v1/teams/fleet/members/commuter", Map.of("role", "viewer"))
                .expect(200);
        admin.bringIn(
                        """
                task: fleet-daily
                team: fleet
                does: { command: [ "true" ] }
                schedules: [ { name: d, when: every day at 05:00, zone: UTC } ]
                ---
                task: revenue-daily
                team: revenue
                does: { command: [ "true" ] }
                schedules: [ { name: d, when: every day at 05:00, zone: UTC } ]
                """)
                .expect(200);
        Http commuter = service.as("commuter", PASSWORD);
        assertThat(commuter.post("/api/v1/feeds", Map.of("team", "revenue")).status())
                .isEqualTo(404);
        String address = commuter.post("/api/v1/feeds", Map.of())
                .expect(201)
                .body()
                .path("address")
                .asString();
        Http anybody = Http.unsigned(service.url());
        assertThat(anybody.get(address).expect(200).text())
                .contains("fleet-daily")
                .doesNotContain("revenue-daily");
        assertThat(commuter.get("/api/v1/forecast?until=" + Instant.now().plusSeconds(172_800))
                        .body()
                        .toString())
                .contains("fleet-daily")
                .doesNotContain("revenue-daily");
        assertThat(commuter.get("/api/v1/feeds").text()).doesNotContain("gf_");
        admin.put("/api/v1/people/commuter/shut", Map.of("shut", true));
        assertThat(anybody.get(address).status()).isEqualTo(404);
    }
}
