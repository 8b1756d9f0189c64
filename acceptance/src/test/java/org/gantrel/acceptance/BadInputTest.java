package org.gantrel.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.MethodSource;
import tools.jackson.databind.JsonNode;

@DisplayName("Bad input")
class BadInputTest extends OneService {

    @BeforeAll
    static void begin() {
        work.program("settle.sh", "echo $1");
        admin.bringIn(
                        """
                task: settle-tickets
                team: revenue
                parameters:
                  route: { type: choice, of: [ skarholm, sound ] }
                  day: { type: date, default: "2026-01-01" }
                does: { command: [ ./settle.sh, "${route}" ], in: %s }
                """
                                .formatted(work.folder()))
                .expect(200);
    }

    @Test
    @DisplayName("in a file gets all its problems at once, each with file, line and column, and changes nothing")
    void inAFile() {
        work.write(
                "wrong.yaml",
                """
                task: good-one
                team: revenue
                does: { command: [ "true" ] }
                ---
                task: bad-one
                team: revenu
                tiem-limit: PT1M
                does: { command: [ "true" ] }
                schedules: [ { name: n, when: "0 25 * * *", zone: Europe/Olso } ]
                ---
                task: [
                """);
        Shell.Result refused = service.gantrel(
                admin.token(), "import", work.folder().resolve("wrong.yaml").toString());
        assertThat(refused.expect(2).err().lines())
                .anySatisfy(line -> assertThat(line)
                        .endsWith("wrong.yaml:7:1: tiem-limit: unknown key; did you mean 'time-limit'?"))
                .anySatisfy(line -> assertThat(line).contains("wrong.yaml:9:").contains("hour 25: 0 to 23"))
                .anySatisfy(line -> assertThat(line)
                        .contains("'Europe/Olso' is no time zone")
                        .endsWith("'Europe/Oslo'?"))
                .anySatisfy(line -> assertThat(line).contains("wrong.yaml:12:1: not YAML:"));
        assertThat(admin.get("/api/v1/jobs/good-one").status()).isEqualTo(404);
    }

    @Test
    @DisplayName("that names a team or a job that is not there is told the nearest that is")
    void whatIsNotThere() {
        assertThat(admin.bringIn("task: x\nteam: revenu\ndoes: { command: [ \"true\" ] }")
                        .expect(422)
                        .detail())
                .contains("there is no team 'revenu'; did you mean 'revenue'?");
        assertThat(admin.bringIn("chain: c\nteam: revenue\nsteps: [ { job: setle-tickets } ]")
                        .expect(422)
                        .detail())
                .contains("there is no job 'setle-tickets'; did you mean 'settle-tickets'?");
        assertThat(admin.bringIn("chain: c\nteam: revenue\nsteps: [ { job: settle-tickets } ]")
                        .expect(422)
                        .detail())
                .contains("steps.settle-tickets.with.route: is missing: the job settle-tickets has no default for it");
        assertThat(admin.bringIn("chain: c\nteam: revenue\nsteps: [ { job: c } ]")
                        .expect(422)
                        .detail())
                .contains("the chain would run itself");
    }

    @Test
    @DisplayName("for a start names every wrong value with what is allowed, and nothing starts")
    void forAStart() {
        int before = admin.get("/api/v1/runs").body().size();
        Shell.Result refused = service.gantrel(
                admin.token(),
                "job",
                "start",
                "settle-tickets",
                "-p",
                "route=skarhol",
                "-p",
                "day=tomorrow",
                "-p",
                "dya=1");
        assertThat(refused.expect(2).err().lines())
                .containsExactlyInAnyOrder(
                        "gantrel: dya: there is no such parameter; did you mean 'day'?",
                        "gantrel: route: 'skarhol' is not one of skarholm and sound; did you mean 'skarholm'?",
                        "gantrel: day: 'tomorrow' is not a date such as 2026-11-23");
        assertThat(service.gantrel(admin.token(), "job", "start", "settle-tickets")
                        .expect(2)
                        .err())
                .contains("route: no value is given; one of the listed values is needed: skarholm, sound");
        assertThat(admin.get("/api/v1/runs").body().size()).isEqualTo(before);
    }

    @Test
    @DisplayName("about a program is a warning at import and a plain message at the start")
    void aboutAProgram() {
        work.write("plain.sh", "echo no");
        String misspelt = work.task("misspelt", "./setle.sh", "");
        JsonNode imported = admin.bringIn(misspelt + "---\n" + work.task("plain", "./plain.sh", "") + "---\n"
                        + work.task("unknown", "no-such-program-here", ""))
                .expect(200)
                .body();
        assertThat(imported.get(0).path("warnings").get(0).asString())
                .contains("there is no program")
                .endsWith("did you mean 'settle.sh'?");
        assertThat(imported.get(1).path("warnings").get(0).asString()).contains("is not executable; 'chmod +x");
        assertThat(imported.get(2).path("warnings").get(0).asString()).contains("in the folders of PATH");
        JsonNode run = service.ended(admin, admin.start("misspelt", Map.of()));
        assertThat(run.path("state").asString()).isEqualTo("failed");
        assertThat(run.path("message").asString()).startsWith("not started: there is no program");
        assertThat(run.has("exitCode")).isFalse();
        admin.bringIn("task: lost\nteam: revenue\ndoes: { command: [ ls ], in: /no/such/folder }")
                .expect(200);
        assertThat(service.ended(admin, admin.start("lost", Map.of()))
                        .path("message")
                        .asString())
                .isEqualTo("not started: there is no folder /no/such/folder");
    }

    static Stream<Arguments> calls() {
        String longName = "x".repeat(10_000);
        return Stream.of(
                Arguments.of("POST", "/api/v1/teams", "not json", 400, "is to be JSON"),
                Arguments.of("POST", "/api/v1/teams", "{\"naem\":\"x\"}", 400, "naem"),
                Arguments.of(
                        "POST", "/api/v1/teams", "{\"name\":\"" + longName + "\"}", 422, "too long: 10000 characters"),
                Arguments.of("POST", "/api/v1/teams", "{\"name\":\"Big Team\"}", 422, "is no name"),
                Arguments.of(
                        "POST", "/api/v1/teams", "{\"name\":\"revenue\"}", 409, "there is a team 'revenue' already"),
                Arguments.of(
                        "POST",
                        "/api/v1/people",
                        "{\"name\":\"a\",\"password\":\"short\"}",
                        422,
                        "at least 12 characters"),
                Arguments.of("GET", "/api/v1/runs?limit=1000000", null, 422, "1000000: 1 to 500"),
                Arguments.of("GET", "/api/v1/runs?limit=many", null, 400, "'many' is no whole number"),
                Arguments.of(
                        "PUT",
                        "/api/v1/lanes/none/width",
                        "{\"width\": 2.5}",
                        400,
                        "width: '2.5': a whole number in its range is expected"),
                Arguments.of(
                        "PUT", "/api/v1/lanes/none/width", "{\"width\": 1000000000000}", 400, "is out of its range"),
                Arguments.of("GET", "/api/v1/forecast?from=soon", null, 400, "no instant such as 2026"),
                Arguments.of("GET", "/api/v1/forecast?job=none", null, 404, "there is no job 'none'"),
                Arguments.of("GET", "/api/v1/forecast?team=none", null, 404, "there is no team 'none'"),
                Arguments.of(
                        "POST",
                        "/api/v1/holds",
                        "{\"on\": \"planet\", \"due\": \"x\", \"running\": \"y\", \"why\": \" \"}",
                        422,
                        "'y': finish or stop"),
                Arguments.of("GET", "/api/v1/runs?state=faild", null, 422, "'faild' is no state"),
                Arguments.of("GET", "/api/v1/runs?stat=failed", null, 422, "is no filter; did you mean 'state'?"),
                Arguments.of("GET", "/api/v1/runs?since=yesterday", null, 422, "an instant such as"),
                Arguments.of("GET", "/api/v1/runs/99999", null, 404, "there is no run 99999"),
                Arguments.of("GET", "/api/v1/jobs/" + "y".repeat(1_000), null, 404, "there is no job"),
                Arguments.of("GET", "/api/v1/when?expression=every+5+minuts", null, 422, "column 9"),
                Arguments.of(
                        "GET",
                        "/api/v1/board?from=2026-01-01T00:00:00Z&until=2027-01-01T00:00:00Z",
                        null,
                        422,
                        "8 days"),
                Arguments.of("GET", "/api/v1/nothing", null, 404, ""),
                Arguments.of("DELETE", "/api/v1/runs", null, 405, ""),
                Arguments.of("POST", "/api/v1/imports", "{\"files\":[]}", 422, "1 to 1000 files"),
                Arguments.of(
                        "POST",
                        "/api/v1/jobs/settle-tickets/runs",
                        "{\"parameters\":{\"route\":[]}}",
                        422,
                        "a single value"));
    }

    @ParameterizedTest(name = "{0} {1} is {3}")
    @MethodSource("calls")
    void inACallGetsAProblem(String method, String path, String body, int status, String detail) {
        Http.Answer answer = admin.send(method, path, body).expect(status);
        assertThat(answer.header("Content-Type")).startsWith("application/problem+json");
        assertThat(answer.body().path("status").asInt()).isEqualTo(status);
        assertThat(answer.body().path("title").asString()).isNotBlank();
        assertThat(answer.detail()).contains(detail);
        assertThat(answer.text())
                .hasSizeLessThan(3_000)
                .doesNotContain("Exception")
                .doesNotContain("tools.jackson");
    }

    @Test
    @DisplayName("by two people who change the same job: the second is told by whom, and overwrites nothing")
    void twoPeopleChangeTheSameJob() {
        admin.bringIn(work.task("shared", "./settle.sh", "")).expect(200);
        Http.Answer read = admin.get("/api/v1/jobs/shared").expect(200);
        String tag = read.header("ETag");
        Map<String, String> first = Map.of("definition", work.task("shared", "./settle.sh", "time-limit: PT1M"));
        Map<String, String> second = Map.of("definition", work.task("shared", "./settle.sh", "time-limit: PT2M"));
        Http.Answer saved =
                admin.with("If-Match", tag).put("/api/v1/jobs/shared", first).expect(200);
        assertThat(saved.header("ETag")).isNotEqualTo(tag);
        assertThat(admin.with("If-Match", tag)
                        .put("/api/v1/jobs/shared", second)
                        .expect(412)
                        .detail())
                .contains("was changed meanwhile by admin (revision 2)");
        assertThat(admin.put("/api/v1/jobs/shared", second).expect(428).detail())
                .contains("If-Match");
        assertThat(admin.get("/api/v1/jobs/shared").body().path("timeLimit").asString())
                .isEqualTo("PT1M");
        assertThat(admin.get("/api/v1/jobs/shared/revisions").body()).hasSize(2);
        Map<String, String> renamed = Map.of("definition", work.task("other", "./settle.sh", ""));
        assertThat(admin.with("If-Match", "*")
                        .put("/api/v1/jobs/shared", renamed)
                        .expect(422)
                        .detail())
                .contains("a job keeps its name");
    }

    @Test
    @DisplayName("of HTML in every text stays text in JSON")
    void htmlStaysText() {
        String html = "<img src=x onerror=alert(1)>";
        admin.bringIn("task: html\nteam: revenue\nabout: \"" + html + "\"\nparameters: { p: { type: text, default: \""
                        + html + "\", about: \"" + html + "\" } }\ndoes: { command: [ ./settle.sh, \"${p}\" ], in: "
                        + work.folder() + " }")
                .expect(200);
        Http.Answer job = admin.get("/api/v1/jobs/html").expect(200);
        assertThat(job.header("Content-Type")).isEqualTo("application/json");
        assertThat(job.body().path("about").asString()).isEqualTo(html);
        long number = admin.start("html", Map.of());
        service.ended(admin, number);
        Http.Answer log = admin.get("/api/v1/runs/" + number + "/log");
        assertThat(log.header("Content-Type")).startsWith("text/plain");
        assertThat(log.header("X-Content-Type-Options")).isEqualTo("nosniff");
        assertThat(log.text()).isEqualTo(html + "\n");
    }

    @Test
    @DisplayName("of a disk without room: the run says so, and the service lives")
    void noRoomForLogs() throws Exception {
        try (Service full = Service.fresh("--least-free-space", "900000T")) {
            Http http = Work.settle(full);
            http.bringIn(work.task("settle", "./settle.sh", "")).expect(200);
            JsonNode run = full.ended(http, http.start("settle", Map.of()));
            assertThat(run.path("state").asString()).isEqualTo("failed");
            assertThat(run.path("message").asString())
                    .startsWith("not started: no room for its log:")
                    .contains("MB free in");
            assertThat(http.get("/api/v1/health").status()).isEqualTo(200);
            var blocked = full.data().resolve("runs/1/1002");
            Files.createDirectories(blocked.getParent());
            Files.writeString(blocked, "in the way");
            full.stop();
        }
        try (Service blocked = Service.fresh()) {
            Http http = Work.settle(blocked);
            http.bringIn(work.task("settle", "./settle.sh", "")).expect(200);
            Files.writeString(blocked.data().resolve("runs/1"), "in the way");
            JsonNode run = blocked.ended(http, http.start("settle", Map.of()));
            assertThat(run.path("state").asString()).isEqualTo("failed");
            assertThat(run.path("message").asString()).startsWith("not started: ");
            Files.delete(blocked.data().resolve("runs/1"));
            assertThat(blocked.ended(http, http.start("settle", Map.of()))
                            .path("state")
                            .asString())
                    .isEqualTo("succeeded");
        }
    }

    @Test
    @DisplayName("that fills the disk while a command runs is said by its run")
    void diskFillsUp() throws Exception {
        try (Service service = Service.fresh()) {
            Http http = Work.settle(service);
            Work late = new Work().program("late.sh", "until [ -e go ]; do sleep 0.1; done; echo more");
            http.bringIn(late.task("late", "./late.sh", "")).expect(200);
            long number = http.start("late", Map.of());
            var folder = service.data().resolve("runs/" + number / 1000 + "/" + number);
            Await.until("it runs", () -> folder.resolve("process").toFile().exists());
            Files.createDirectory(folder.resolve("exit"));
            late.write("go", "");
            JsonNode run = service.ended(http, number);
            assertThat(run.path("state").asString()).isEqualTo("failed");
            assertThat(run.path("message").asString())
                    .contains("its log is not whole")
                    .contains("could not be written");
        }
    }

    @Test
    @DisplayName("of settings names each that is wrong, all at once")
    void ofSettings() {
        Shell.Result refused = Shell.run(
                Map.of(),
                "",
                "gantrel",
                "serve",
                "--data",
                work.folder().resolve("d").toString(),
                "--port",
                "99999",
                "--runs-at-once",
                "0",
                "--grace",
                "soon",
                "--mail-host",
                "x",
                "--mail-encryption",
                "tsl");
        assertThat(refused.expect(2).err().lines()).hasSize(4).anySatisfy(line -> assertThat(line)
                .isEqualTo("gantrel serve: port: '99999': a number from 0 to 65535 would be right"));
        assertThat(refused.err()).contains("did you mean 'tls'?");
        Shell.Result taken = Shell.run(
                Map.of(), "", "gantrel", "serve", "--data", service.data().toString());
        assertThat(taken.expect(4).err()).contains("is in use by a service that runs");
        String port = service.url().replaceAll(".*:", "");
        Shell.Result takenPort = Shell.run(
                Map.of(),
                "",
                "gantrel",
                "serve",
                "--data",
                work.folder().resolve("e").toString(),
                "--port",
                port);
        assertThat(takenPort.expect(4).err()).contains("port " + port + " on 127.0.0.1 is in use");
        assertThat(List.of(takenPort.err().split("\n"))).hasSizeLessThan(4);
    }
}
