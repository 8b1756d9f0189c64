package org.gantrel.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

@DisplayName("An administrator's first day, at the command line")
class FirstDayTest {

    private static Service service;
    private static Work work;
    private static String token;

    @BeforeAll
    static void begin() {
        service = Service.fresh();
        token = service.admin().token();
        work = new Work()
                .program(
                        "settle.sh",
                        """
                echo "settling $1 for $2"
                [ "$1" = sound ] && { echo "card processor refused the login" >&2; exit 1; }
                exit 0""");
        gantrel("team", "create", "revenue", "--about", "Ticket money").expect(0);
        work.write(
                "settle.yaml",
                """
                # settles the day
                task: settle-tickets
                team: revenue
                about: Settles a day's ticket sales
                parameters:
                  route: { type: choice, of: [ skarholm, sound ] }
                  day:   { type: date, default: "${planned.date - days(1)}" }
                does: { command: [ ./settle.sh, "${route}", "${day}" ], in: %s }
                schedules: [ { name: nightly, when: every day at 02:30, zone: Europe/Oslo, with: { route: sound } } ]
                """
                        .formatted(work.folder()));
        gantrel("import", work.folder().resolve("settle.yaml").toString()).expect(0);
    }

    @AfterAll
    static void end() {
        service.close();
    }

    private static Shell.Result gantrel(String... arguments) {
        return service.gantrel(token, arguments);
    }

    private static JsonNode json(Shell.Result result) {
        return Http.JSON.readTree(result.out());
    }

    @Test
    @DisplayName("begins with an account whose password comes from the environment")
    void firstAdministrator() {
        assertThat(service.said()).contains("made the account 'admin' with the password from GANTREL_ADMIN_PASSWORD");
        assertThat(service.said()).doesNotContain(Service.PASSWORD);
        assertThat(Http.unsigned(service.url())
                        .get("/api/v1/health")
                        .expect(200)
                        .body()
                        .path("status")
                        .asString())
                .isEqualTo("up");
    }

    @Test
    @DisplayName("goes on with login, whose token is kept where only its user can read it")
    void login() throws Exception {
        var home = Files.createTempDirectory("home");
        Map<String, String> environment = Map.of("GANTREL_URL", service.url(), "XDG_CONFIG_HOME", home.toString());
        Shell.run(environment, Service.PASSWORD + "\n", "gantrel", "login", "--name", "admin", "--password-stdin")
                .expect(0);
        var file = home.resolve("gantrel/sign-in.json");
        assertThat(PosixFilePermissions.toString(Files.getPosixFilePermissions(file)))
                .isEqualTo("rw-------");
        Shell.run(environment, "", "gantrel", "job", "list").expect(0);
        Shell.run(environment, "", "gantrel", "logout").expect(0);
        Shell.Result refused =
                Shell.run(environment, "", "gantrel", "job", "list").expect(3);
        assertThat(refused.err()).contains("'gantrel login' signs in");
    }

    @Test
    @DisplayName("may begin without a service: files are checked by themselves, expressions in them too")
    void checksFiles() {
        String wrong = work.task("alone", "\"./settle-${planned.dat}.sh\"", "");
        Map<String, String> nowhere = Map.of("GANTREL_URL", "http://127.0.0.1:1");
        assertThat(Shell.run(nowhere, wrong, "gantrel", "definition", "check", "-")
                        .expect(1)
                        .out())
                .startsWith("standard input:4:")
                .contains("planned.dat");
        String settle = work.folder().resolve("settle.yaml").toString();
        assertThat(Shell.run(nowhere, "", "gantrel", "definition", "check", settle)
                        .expect(0)
                        .err())
                .contains("nothing is wrong by itself");
        assertThat(json(Shell.run(nowhere, "", "gantrel", "definition", "schema")
                                .expect(0))
                        .path("$defs")
                        .path("lane")
                        .path("required"))
                .hasSize(2);
    }

    @Test
    @DisplayName("brings work in: a dry run says what would be done, and the same file again is left alone")
    void importsDefinitions() {
        String file = work.folder().resolve("settle.yaml").toString();
        assertThat(gantrel("import", file, "--dry-run").expect(0).out()).contains("would leave  task  settle-tickets");
        work.write("fresh.yaml", work.task("fresh", "./settle.sh", ""));
        Shell.Result dry = gantrel("import", work.folder().toString(), "--dry-run", "--format", "json")
                .expect(0);
        assertThat(json(dry).valueStream().map(row -> row.path("action").asString()))
                .containsExactly("create", "leave");
        gantrel("job", "show", "fresh").expect(4);
        gantrel("import", work.folder().toString()).expect(0);
        gantrel("job", "retire", "fresh", "--yes").expect(0);
        assertThat(gantrel("job", "list", "--format", "csv").expect(0).out()).doesNotContain("fresh");
    }

    @Test
    @DisplayName("tries it with values and waits: the outcome is the exit code")
    void startsAndWaits() {
        JsonNode good =
                json(gantrel("job", "start", "settle-tickets", "-p", "route=skarholm", "--wait", "--format", "json")
                        .expect(0));
        assertThat(good.path("state").asString()).isEqualTo("succeeded");
        assertThat(good.path("cause").asString()).isEqualTo("person");
        assertThat(good.path("causeRef").asString()).isEqualTo("admin");
        assertThat(good.path("revision").asInt()).isEqualTo(1);
        Shell.Result bad = gantrel("job", "start", "settle-tickets", "-p", "route=sound", "--follow")
                .expect(1);
        assertThat(bad.err()).contains("settling sound for 20").contains("card processor refused the login");
        assertThat(bad.out()).contains("failed").contains("exit code 1: card processor refused the login");
        long number = good.path("number").asLong();
        assertThat(gantrel("run", "log", String.valueOf(number)).expect(0).out())
                .startsWith("settling skarholm for 20");
        assertThat(gantrel("run", "show", String.valueOf(number)).expect(0).out())
                .contains("started by hand, by admin at ")
                .contains("and succeeded after")
                .contains("route            skarholm");
        Shell.Result repeat = gantrel("run", "repeat", String.valueOf(number), "--wait", "--format", "json")
                .expect(0);
        assertThat(json(repeat).path("parameters")).isEqualTo(good.path("parameters"));
        assertThat(json(repeat).path("plannedAt")).isEqualTo(good.path("plannedAt"));
        assertThat(json(repeat).path("causeRef").asString()).isEqualTo(String.valueOf(number));
    }

    @Test
    @DisplayName("looks at what happened as a table, as JSON of the API and as CSV")
    void listsRuns() {
        gantrel("job", "start", "settle-tickets", "-p", "route=sound", "--wait").expect(1);
        Shell.Result csv = gantrel("run", "list", "--state", "failed", "--since", "1d", "--format", "csv")
                .expect(0);
        assertThat(csv.out().lines().toList().get(0)).isEqualTo("RUN,JOB,TEAM,STATE,PLANNED,TOOK,CAUSE,BY,MESSAGE");
        assertThat(csv.out().lines().toList().get(1))
                .matches("\\d+,settle-tickets,revenue,failed,20\\S+Z,PT\\S+S,person,admin,exit code 1: card .*");
        JsonNode rows = json(gantrel("run", "list", "--text", "sound refused", "--format", "json")
                .expect(0));
        assertThat(rows)
                .isNotEmpty()
                .allSatisfy(row -> assertThat(row.path("state").asString()).isEqualTo("failed"));
        Shell.Result none = gantrel("run", "list", "--state", "timed-out").expect(0);
        assertThat(none.out()).isEmpty();
        assertThat(none.err()).contains("no run is like that");
        assertThat(gantrel("status", "--zone", "UTC").expect(1).out())
                .contains("so far today")
                .contains("settle-tickets");
    }

    @Test
    @DisplayName("gives it a schedule, switches it off and on, and sees who did")
    void switchesASchedule() {
        assertThat(gantrel("job", "show", "settle-tickets").expect(0).out())
                .contains("nightly: every day at 02:30 (Europe/Oslo), next 20");
        gantrel("schedule", "off", "settle-tickets", "nightly").expect(0);
        JsonNode off =
                json(gantrel("schedule", "list", "--format", "json").expect(0)).get(0);
        assertThat(off.path("on").asBoolean()).isFalse();
        assertThat(off.path("next")).isEmpty();
        gantrel("schedule", "on", "settle-tickets", "nightly").expect(0);
        JsonNode on =
                json(gantrel("schedule", "list", "--format", "json").expect(0)).get(0);
        assertThat(on.path("next")).hasSize(5);
        assertThat(gantrel("change", "list").expect(0).out())
                .contains("switched off")
                .contains("settle-tickets / nightly");
        assertThat(gantrel("schedule", "off", "settle-tickets", "nigthly")
                        .expect(4)
                        .err())
                .contains("did you mean 'nightly'?");
    }

    @Test
    @DisplayName("lets colleagues in, each with a role that says what they may do")
    void letsColleaguesIn() {
        Shell.run(
                        Map.of("GANTREL_URL", service.url(), "GANTREL_TOKEN", token),
                        "a-long-password\n",
                        "gantrel",
                        "person",
                        "create",
                        "lea.moss",
                        "--full-name",
                        "Lea Moss",
                        "--password-stdin")
                .expect(0);
        gantrel("team", "add", "revenue", "lea.moss", "--role", "viewer").expect(0);
        String lea = service.as("lea.moss", "a-long-password").token();
        assertThat(service.gantrel(lea, "run", "list").expect(0).err()).doesNotContain("gantrel:");
        assertThat(service.gantrel(lea, "job", "start", "settle-tickets", "-p", "route=sound")
                        .expect(3)
                        .err())
                .contains("takes the role operator; you are viewer there");
        assertThat(gantrel("team", "list").expect(0).out()).contains("lea.moss (viewer)");
        gantrel("person", "shut", "lea.moss").expect(0);
        service.gantrel(lea, "run", "list").expect(3);
    }

    @Test
    @DisplayName("makes a token for a program, and takes it back")
    void makesATokenForAProgram() {
        String made = gantrel("token", "create", "--name", "ci").expect(0).out().strip();
        assertThat(service.gantrel(made, "job", "list").expect(0).out()).contains("settle-tickets");
        JsonNode tokens = json(gantrel("token", "list", "--format", "json").expect(0));
        long id = tokens.valueStream()
                .filter(row -> row.path("name").asString().equals("ci"))
                .findFirst()
                .orElseThrow()
                .path("id")
                .asLong();
        gantrel("token", "revoke", String.valueOf(id)).expect(0);
        service.gantrel(made, "job", "list").expect(3);
    }

    @Test
    @DisplayName("is helped with wrong usage, and told when nobody answers")
    void isHelped() {
        assertThat(gantrel("job", "strat", "x").expect(2).err()).contains("start");
        assertThat(gantrel("run", "list", "--since", "yesterday").expect(2).err())
                .contains("90m, 12h, 1d");
        assertThat(gantrel("job", "start", "setle-tickets").expect(4).err()).contains("did you mean 'settle-tickets'?");
        Shell.Result nobody = Shell.run(
                Map.of("GANTREL_URL", "http://127.0.0.1:9", "GANTREL_TOKEN", "x"), "", "gantrel", "job", "list");
        assertThat(nobody.expect(5).err()).contains("no service answers at http://127.0.0.1:9");
        for (String noun : List.of("job", "run", "schedule", "team", "person", "token")) {
            assertThat(gantrel(noun, "--help").expect(0).out()).contains("Usage: gantrel " + noun);
        }
        assertThat(gantrel("serve", "--prot", "1").expect(2).err()).contains("did you mean 'port'?");
    }

    @Test
    @DisplayName("asks what a schedule means without any service")
    void asksWhatAScheduleMeans() {
        Shell.Result when = Shell.run(
                Map.of(),
                "",
                "gantrel",
                "when",
                "45 6 * * 1-5",
                "--zone",
                "Europe/Oslo",
                "--from",
                "2026-03-20T00:00Z",
                "--count",
                "2",
                "--format",
                "json");
        assertThat(json(when.expect(0)))
                .isEqualTo(
                        Http.JSON.readTree(
                                """
                { "expression": "45 6 * * 1-5", "kind": "cron", "phrase": "every weekday at 06:45",
                  "zone": "Europe/Oslo", "occurrences": [ "2026-03-20T05:45:00Z", "2026-03-23T05:45:00Z" ] }"""));
        assertThat(Shell.run(Map.of(), "", "gantrel", "when", "evry day at 2:30")
                        .expect(2)
                        .err())
                .contains("column 1")
                .contains("did you mean 'every'?");
    }
}
