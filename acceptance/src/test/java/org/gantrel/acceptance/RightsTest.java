package org.gantrel.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.JsonNode;

/** Every call of the API with every role, and every reference that a definition can hold to what another team has. */
@DisplayName("Rights")
class RightsTest extends OneService {

    /** From least to most; a manager of another team stands for all that are not in the team. */
    private static final List<String> CALLERS =
            List.of("anonymous", "outsider", "viewer", "operator", "editor", "manager", "admin");

    /** Ends what the other callers call with or for. */
    private static final Set<String> LEFT_OUT = Set.of(
            "DELETE /api/v1/sessions/current",
            "DELETE /api/v1/tokens/{id}",
            "POST /api/v1/sessions",
            "GET /api/v1/events",
            "GET /api/v1/runs/{number}/log/events");

    /** What has to be said for a call to be looked at at all; an empty object does for the others. */
    private static final Map<String, String> BODIES = Map.of(
            "/switch", "{\"on\":true}",
            "/shut", "{\"shut\":false}",
            "/included", "{\"included\":true}");

    private static final Map<String, Http> HTTP = new LinkedHashMap<>();
    private static long run;

    @BeforeAll
    static void begin() {
        admin.post("/api/v1/teams", Map.of("name", "harbour", "about", "")).expect(201);
        HTTP.put("anonymous", Http.unsigned(service.url()));
        for (String role : CALLERS.subList(1, 6)) {
            admin.post("/api/v1/people", Map.of("name", role, "password", Service.PASSWORD))
                    .expect(201);
            boolean outside = role.equals("outsider");
            admin.put(
                            "/api/v1/teams/" + (outside ? "harbour" : "revenue") + "/members/" + role,
                            Map.of("role", outside ? "manager" : role))
                    .expect(200);
            HTTP.put(role, service.as(role, Service.PASSWORD));
        }
        HTTP.put("admin", admin);
        // the first fault and the first message are those of the team that all are asked about
        admin.bringIn("task: breaks\nteam: revenue\ndoes: { shell: exit 3 }\nnotify: { failed: [ ops@example.org ] }\n")
                .expect(200);
        service.ended(admin, admin.start("breaks", Map.of()));
        Await.until("it is told", () -> admin.get("/api/v1/deliveries").body().size() == 1);
        make("settle", "lines", "tickets", "closed-days");
        service.ended(admin, admin.start("settle", Map.of()));
    }

    private static void make(String job, String roster, String credential, String calendar) {
        admin.bringIn(
                        """
                task: %s
                team: revenue
                parameters: { route: { type: text, default: sound } }
                does: { shell: "echo 'route\\nskarholm' > lines.csv" }
                outputs: [ { file: lines.csv } ]
                schedules: [ { name: yearly, when: 0 0 1 1 *, zone: UTC } ]
                triggers: [ { name: %s, on: run.ended, of: breaks } ]
                ---
                roster: %s
                team: revenue
                columns: [ route ]
                rows: [ { route: sound } ]
                ---
                calendar: %s
                team: revenue
                days: monday
                ---
                lane: %s
                team: revenue
                width: 1
                ---
                notification: %s
                team: revenue
                to: [ ops@example.org ]
                ---
                channel: %s
                team: revenue
                call: http://127.0.0.1:1/
                """
                                .formatted(
                                        job,
                                        job,
                                        roster,
                                        calendar,
                                        job.replace("job", "lane"),
                                        job.replace("job", "rule"),
                                        job.replace("job", "channel")))
                .expect(200);
        admin.put(
                        "/api/v1/credentials/" + credential,
                        Map.of("team", "revenue", "kind", "secret", "secrets", Map.of("value", "hush-hush")))
                .expect(201);
    }

    private static Map<String, String> table() throws IOException {
        var table = new TreeMap<String, String>();
        try (InputStream file = RightsTest.class.getResourceAsStream("/rights.txt")) {
            new String(file.readAllBytes(), StandardCharsets.UTF_8)
                    .lines()
                    .filter(line -> !line.isBlank() && !line.startsWith("#"))
                    .forEach(line -> table.put(
                            line.substring(0, line.lastIndexOf(' ')).strip(),
                            line.substring(line.lastIndexOf(' ') + 1)));
        }
        return table;
    }

    @Test
    @DisplayName("of each call are those that the table says, and every call is in the table")
    void everyCall() throws IOException {
        make("a-job", "a-roster", "a-credential", "a-calendar");
        run = admin.start("a-job", Map.of());
        admin.post("/api/v1/holds", Map.of("on", "job", "name", "a-job", "why", "x", "from", "2027-01-01T00:00:00Z"))
                .expect(201);
        service.ended(admin, run);
        admin.post("/api/v1/people", Map.of("name", "leaver", "password", Service.PASSWORD))
                .expect(201);
        admin.put("/api/v1/teams/revenue/members/leaver", Map.of("role", "viewer"))
                .expect(200);
        var found = new TreeMap<String, String>();
        JsonNode paths = admin.get("/api/openapi.json").body().path("paths");
        var calls = new ArrayList<String>();
        paths.forEachEntry((path, methods) ->
                methods.propertyNames().forEach(method -> calls.add(method.toUpperCase(Locale.ROOT) + " " + path)));
        // what takes something away comes last
        calls.sort(Comparator.comparing((String call) -> call.startsWith("DELETE"))
                .thenComparing(Comparator.comparing(String::length).reversed()));
        for (String call : calls) {
            if (!LEFT_OUT.contains(call)) {
                found.put(call, least(call));
            }
        }
        Map<String, String> table = table();
        if (Boolean.getBoolean("gantrel.rights")) {
            found.forEach((call, who) -> System.out.println(call + " " + who));
        }
        assertThat(found).as("what the table in rights.txt says").isEqualTo(table);
    }

    private static String body(String path) {
        return BODIES.getOrDefault(path.substring(path.lastIndexOf('/')), "{}");
    }

    /** The least of the callers that is neither told to sign in, nor that it may not, nor that nothing is there. */
    private static String least(String call) {
        String method = call.split(" ")[0];
        String path = call.split(" ")[1]
                .replace("{number}", String.valueOf(run))
                .replace("{id}", "1")
                .replace("{revision}", "1")
                .replace("{schedule}", "yearly")
                .replace("{kind}", "notification")
                .replace("{team}", "revenue")
                .replace("{year}", "2027")
                .replace("{person}", "leaver")
                .replace("{place}", "1")
                .replace("/outputs/file", "/outputs/file?name=lines.csv");
        String name = path.contains("rosters")
                ? "a-roster"
                : path.contains("credentials")
                        ? "a-credential"
                        : path.contains("calendars")
                                ? "a-calendar"
                                : path.contains("lanes")
                                        ? "a-lane"
                                        : path.contains("tellings")
                                                ? "a-rule"
                                                : path.contains("channels") ? "a-channel" : "a-job";
        path = path.replaceAll("\\{\\w+}", name);
        for (String caller : CALLERS) {
            boolean writes = method.equals("POST") || method.equals("PUT") || method.equals("PATCH");
            int status = HTTP.get(caller)
                    .send(method, path, writes ? body(path) : null)
                    .status();
            if (status < 400 || (status != 401 && status != 403 && status != 404)) {
                return caller;
            }
        }
        return "nobody";
    }

    @ParameterizedTest(name = "{0}")
    @DisplayName("to what another team has are asked for wherever a definition speaks of it")
    @CsvSource(
            delimiter = '|',
            value = {
                "a step | chain: c; team: harbour; steps: [ { job: settle } ] | there is no job 'settle'",
                "a schedule over a roster | task: t; team: harbour; parameters: { route: { type: text } };"
                        + " does: { command: [ x ] }; schedules: [ { name: s, when: 0 0 1 1 *, zone: UTC, over: lines } ]"
                        + " | there is no roster 'lines'",
                "whom it acts as | task: t; team: harbour; acts-as: tickets; does: { sql: select 1 }"
                        + " | there is no credential 'tickets'",
                "a secret | task: t; team: harbour; does: { command: [ x ], secrets: { A: tickets } }"
                        + " | there is no credential 'tickets'",
                "a check's credential | task: t; team: harbour; does: { checks: [ { name: c, sql: select 1,"
                        + " acts-as: tickets, equals: 1 } ] } | there is no credential 'tickets'",
                "an output | roster: r; team: harbour; from: { output: lines.csv, of: settle }"
                        + " | there is no job 'settle'",
                "a roster's credential | roster: r; team: harbour; from: { sql: select 1 as n, acts-as: tickets }"
                        + " | there is no credential 'tickets'",
                "a lane | task: t; team: harbour; lanes: [ settle ]; does: { command: [ x ] } | there is no lane 'settle'",
                "a gate's job | task: t; team: harbour; gates: [ { job: settle } ]; does: { command: [ x ] }"
                        + " | there is no job 'settle'",
                "a gate's credential | task: t; team: harbour; gates: [ { sql: select 1, acts-as: tickets, equals: 1 } ];"
                        + " does: { command: [ x ] } | there is no credential 'tickets'",
                "a trigger's job | task: t; team: harbour; triggers: [ { name: x, on: run.ended, of: settle } ];"
                        + " does: { command: [ x ] } | there is no job 'settle'",
                "a trigger's team | task: t; team: harbour; triggers: [ { name: x, on: run.ended, teams: revenue } ];"
                        + " does: { command: [ x ] } | there is no team 'revenue'",
                "a trigger's token | task: t; team: harbour; triggers: [ { name: x, on: call.received, token: tickets } ];"
                        + " does: { command: [ x ] } | there is no credential 'tickets'",
                "the installation's events | task: t; team: harbour; triggers: [ { name: x, on: signin.refused } ];"
                        + " does: { command: [ x ] } | tells of the whole installation",
                "all teams' events | task: t; team: harbour; triggers: [ { name: x, on: run.ended, teams: any } ];"
                        + " does: { command: [ x ] } | may save a job that listens to all teams",
                "a team | task: t; team: revenue; does: { command: [ x ] } | there is no team 'revenue'",
                "a roster's team | roster: r; team: revenue; rows: [ { n: 1 } ] | there is no team 'revenue'",
                "a calendar's team | calendar: c; team: revenue; days: [ 2026-12-24 ] | there is no team 'revenue'",
                "a lane's team | lane: l; team: revenue; width: 1 | there is no team 'revenue'",
                "a rule's team | notification: n; team: revenue; tells: failed; to: owner | there is no team 'revenue'",
                "a raised job | task: t; team: harbour; raised: yes; does: { command: [ x ] } | whoever keeps accounts",
            })
    void references(String what, String definition, String refusal) {
        Http.Answer answer =
                HTTP.get("outsider").bringIn(definition.replace("; ", "\n").strip());
        assertThat(answer.expect(422).detail()).contains(refusal);
        assertThat(answer.text()).doesNotContain("did you mean").doesNotContain("team revenue decides");
    }

    @Test
    @DisplayName(
            "are asked for at a start and at a rehearsal over a roster, at a usual duration, and at the steps of a run")
    void atStartAndRead() {
        admin.bringIn(
                        "task: own\nteam: harbour\nparameters: { route: { type: text, default: x } }\n"
                                + "does: { command: [ \"true\" ] }\n---\n"
                                + "chain: mixed\nteam: harbour\nsteps: [ { step: theirs, job: settle, with: { route: hidden-route } } ]\n")
                .expect(200);
        Http outsider = HTTP.get("outsider");
        for (String call : List.of("/api/v1/jobs/own/runs", "/api/v1/jobs/own/rehearsal")) {
            Object over = call.endsWith("runs") ? Map.of("roster", "lines") : "lines";
            assertThat(outsider.post(call, Map.of("over", over)).expect(422).detail())
                    .contains("there is no roster 'lines'");
            Object gone = call.endsWith("runs") ? Map.of("roster", "linez") : "linez";
            assertThat(outsider.post(call, Map.of("over", gone)).expect(422).detail())
                    .contains("there is no roster 'linez'")
                    .doesNotContain("did you mean");
        }
        String when = "/api/v1/when?expression=every+1+minutes&job=";
        assertThat(outsider.get(when + "settle").expect(200).text())
                .isEqualTo(outsider.get(when + "no-such-job").expect(200).text());
        long mixed = admin.start("mixed", Map.of());
        service.ended(admin, mixed);
        Http.Answer seen = outsider.get("/api/v1/runs/" + mixed).expect(200);
        assertThat(seen.text()).doesNotContain("hidden-route");
        assertThat(seen.body().path("steps").get(0).path("state").asString()).isEqualTo("succeeded");
        assertThat(admin.get("/api/v1/runs/" + mixed).text()).contains("hidden-route");
        outsider.post("/api/v1/jobs/mixed/runs", Map.of()).expect(403);
    }

    @Test
    @DisplayName("to a roster's source are those of whom saved it, as they are when its rows are drawn")
    void whenRowsAreDrawn() {
        editorWhoLooksOnElsewhere("both");
        Http both = service.as("both", Service.PASSWORD);
        both.bringIn("roster: borrowed\nteam: harbour\nfrom: { output: lines.csv, of: settle }\n---\n"
                        + "task: takes\nteam: harbour\nparameters: { route: { type: text } }\n"
                        + "does: { command: [ echo, \"${route}\" ] }\n")
                .expect(200);
        Map<String, ?> over = Map.of("over", Map.of("roster", "borrowed"));
        long fine = both.post("/api/v1/jobs/takes/runs", over)
                .expect(201)
                .body()
                .path("number")
                .asLong();
        assertThat(service.ended(admin, fine).path("state").asString()).isEqualTo("succeeded");
        admin.send("DELETE", "/api/v1/teams/revenue/members/both", null).expect(204);
        long late = both.post("/api/v1/jobs/takes/runs", over)
                .expect(201)
                .body()
                .path("number")
                .asLong();
        JsonNode ended = service.ended(admin, late);
        assertThat(ended.path("state").asString()).isEqualTo("failed");
        assertThat(ended.path("message").asString()).contains("there is no job 'settle'");
    }

    @Test
    @DisplayName(
            "to events of another team are those of whoever saved the job that listens, as they are when something happens")
    void whenEventsCome() {
        editorWhoLooksOnElsewhere("listener");
        service.as("listener", Service.PASSWORD)
                .bringIn("task: hears\nteam: harbour\ndoes: { command: [ \"true\" ] }\ntriggers:\n"
                        + "  - { name: settled, on: run.ended, of: settle }\n")
                .expect(200);
        service.ended(admin, admin.start("settle", Map.of()));
        Await.until("the first is heard", () -> firings().size() == 1);
        admin.send("DELETE", "/api/v1/teams/revenue/members/listener", null).expect(204);
        service.ended(admin, admin.start("settle", Map.of()));
        Await.until("the second is looked at", () -> firings().size() == 2);
        assertThat(firings().findValuesAsString("outcome")).containsExactlyInAnyOrder("started", "dropped");
        assertThat(firings().toString()).contains("who saved the job may not see such events any more");
    }

    @Test
    @DisplayName("to a roster say nothing of the jobs of others that run over it")
    void whenRowsAreHeldAgainstJobs() {
        admin.post("/api/v1/people", Map.of("name", "rower", "password", Service.PASSWORD))
                .expect(201);
        admin.put("/api/v1/teams/harbour/members/rower", Map.of("role", "editor"))
                .expect(200);
        String rows = "roster: depths\nteam: harbour\ncolumns: [ depth ]\nrows: [ { depth: %s } ]\n";
        admin.bringIn(rows.formatted("3") + "---\ntask: hidden-sounding\nteam: revenue\n"
                        + "parameters: { depth: { type: number } }\ndoes: { command: [ \"true\" ] }\n---\n"
                        + "chain: hidden-survey\nteam: revenue\n"
                        + "steps: [ { step: all, job: hidden-sounding, over: depths } ]\n")
                .expect(200);
        assertThat(admin.bringIn(rows.formatted("deep"), "?dryRun=true")
                        .expect(200)
                        .text())
                .contains("hidden-sounding", "hidden-survey");
        assertThat(service.as("rower", Service.PASSWORD)
                        .bringIn(rows.formatted("deep"))
                        .expect(200)
                        .text())
                .doesNotContain("hidden");
    }

    private static JsonNode firings() {
        return admin.get("/api/v1/triggers/hears/settled").body().path("firings");
    }

    /** An editor of the harbour who may look at the revenue. */
    private static void editorWhoLooksOnElsewhere(String name) {
        admin.post("/api/v1/people", Map.of("name", name, "password", Service.PASSWORD))
                .expect(201);
        admin.put("/api/v1/teams/harbour/members/" + name, Map.of("role", "editor"))
                .expect(200);
        admin.put("/api/v1/teams/revenue/members/" + name, Map.of("role", "viewer"))
                .expect(200);
    }
}
