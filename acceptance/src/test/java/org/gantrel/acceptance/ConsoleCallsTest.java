package org.gantrel.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Iterator;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Stream;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

@DisplayName("The calls that the console is made of")
class ConsoleCallsTest extends OneService {

    private static List<String> names(JsonNode list, String field) {
        return list.valueStream().map(each -> each.path(field).asString()).toList();
    }

    @Test
    @DisplayName("tell how the installation is and which settings hold by whose word, without what is secret")
    void installation() {
        JsonNode found = admin.get("/api/v1/installation").expect(200).body();
        assertThat(found.path("version").asString()).matches("\\d+\\.\\d+\\.\\d+.*");
        assertThat(found.path("engine").asString()).isEqualTo("up");
        assertThat(found.path("freeBytes").asLong())
                .isPositive()
                .isLessThanOrEqualTo(found.path("totalBytes").asLong());
        assertThat(found.path("counts").path("teams").asInt()).isPositive();
        JsonNode port = found.path("settings")
                .valueStream()
                .filter(setting -> setting.path("name").asString().equals("port"))
                .findFirst()
                .orElseThrow();
        assertThat(port.path("from").asString()).isEqualTo("--port");
        assertThat(names(found.path("settings"), "name"))
                .contains("zone", "runs-at-once")
                .doesNotContain("mail-password");
        assertThat(found.toString()).doesNotContain(Service.PASSWORD);
    }

    @Test
    @DisplayName("say what is wrong with a definition while it is written, all at once, at its lines, and keep nothing")
    void definitionChecks() {
        String text = "task: half-done\nteam: revenue\ntiem-limit: 5\ndoes: { comand: [ x ] }\n";
        JsonNode wrong = admin.post("/api/v1/definition-checks", Map.of("definition", text))
                .expect(200)
                .body();
        assertThat(wrong.size()).isGreaterThanOrEqualTo(2);
        assertThat(names(wrong, "message")).anyMatch(message -> message.contains("did you mean 'time-limit'"));
        assertThat(wrong.get(0).path("line").asInt()).isPositive();
        assertThat(admin.post("/api/v1/definition-checks", Map.of("definition", work.task("whole", "x", "")))
                        .expect(200)
                        .body())
                .isEmpty();
        admin.get("/api/v1/jobs/whole").expect(404);
        JsonNode words = admin.get("/api/v1/definition-words").expect(200).body();
        assertThat(names(words.path("task"), "word")).contains("team", "time-limit", "expect");
        assertThat(names(words.path(""), "word")).contains("task", "chain", "calendar");
        JsonNode schema = Http.unsigned(service.url())
                .get("/api/definition.schema.json")
                .expect(200)
                .body();
        assertThat(schema.path("$defs").path("task").path("properties").has("gates"))
                .isTrue();
    }

    @Test
    @DisplayName("narrow the changes down to a person, a kind and a thing")
    void changes() {
        admin.bringIn(work.task("changed-one", "\"true\"", "")).expect(200);
        admin.bringIn(work.task("changed-two", "\"true\"", "")).expect(200);
        JsonNode one = admin.get("/api/v1/changes?kind=job&name=changed-one")
                .expect(200)
                .body();
        assertThat(names(one, "name")).isNotEmpty().containsOnly("changed-one");
        assertThat(admin.get("/api/v1/changes?person=nobody-like-that").body()).isEmpty();
        assertThat(names(admin.get("/api/v1/changes?team=revenue&kind=job").body(), "kind"))
                .containsOnly("job");
        assertThat(gantrel("change", "list", "--kind", "job", "--name", "changed-two")
                        .out())
                .contains("changed-two")
                .doesNotContain("changed-one");
    }

    @Test
    @DisplayName("give a sweep as one thing, and what its checks took in the runs before")
    void sweepsAndItems() {
        admin.bringIn(
                        """
                task: swept
                team: revenue
                parameters: { route: { type: text } }
                does: { command: [ "true", "${route}" ], in: /tmp }
                ---
                roster: three
                team: revenue
                columns: [ route ]
                rows: [ { route: a }, { route: b }, { route: c } ]
                ---
                task: looks
                team: revenue
                does:
                  checks: [ { name: root, file: / }, { name: nowhere, file: /nowhere-at-all } ]
                """)
                .expect(200);
        long sweep = admin.post("/api/v1/jobs/swept/runs", Map.of("over", Map.of("roster", "three")))
                .expect(201)
                .body()
                .path("number")
                .asLong();
        service.ended(admin, sweep);
        assertThat(admin.get("/api/v1/runs?job=swept&rows=no").body()).hasSize(1);
        assertThat(admin.get("/api/v1/runs?job=swept").body()).hasSize(4);
        admin.get("/api/v1/runs?rows=perhaps").expect(422);
        long last = 0;
        for (int i = 0; i < 3; i++) {
            last = admin.start("looks", Map.of());
            service.ended(admin, last);
        }
        JsonNode history =
                admin.get("/api/v1/runs/" + last + "/items/history").expect(200).body();
        assertThat(names(history.path("root"), "state")).hasSize(3).containsOnly("failed");
        assertThat(history.path("nowhere").get(0).path("run").asLong()).isEqualTo(last);
        assertThat(names(history.path("nowhere"), "state")).containsOnly("failed");
    }

    private static Map<String, String> besides(JsonNode comparison) {
        Map<String, String> facts = new TreeMap<>();
        comparison
                .path("facts")
                .forEach(fact -> facts.put(
                        fact.path("what").asString(),
                        fact.path("one").asString() + "|" + fact.path("other").asString() + "|"
                                + fact.path("by").asString()));
        return facts;
    }

    @Test
    @DisplayName("put two runs side by side: with the good one before where none is named, and only what may be seen")
    void comparison() {
        work.program(
                "count.sh",
                "mkdir out; test \"$1\" != oops || exit 1; printf '%s' \"$2\" > out/a.csv; echo \"{\\\"n\\\": $1}\" > \"$GANTREL_RESULT\"");
        admin.bringIn(
                        work.task(
                                "counts",
                                "./count.sh, \"${n}\", \"${text}\"",
                                """
                gives: { n: number }
                outputs: [ { file: out/a.csv } ]
                parameters: { n: { type: text }, text: { type: text, default: ab } }
                """))
                .expect(200);
        long first = admin.start("counts", Map.of("n", "2"));
        service.ended(admin, first);
        String path = "/api/v1/runs/" + first + "/comparison";
        assertThat(admin.get(path).expect(409).body().path("detail").asString())
                .contains("no run of counts before run " + first + " ended well");
        long bad = admin.start("counts", Map.of("n", "oops"));
        service.ended(admin, bad);
        long second = admin.start("counts", Map.of("n", "5", "text", "abcd"));
        service.ended(admin, second);
        JsonNode compared =
                admin.get("/api/v1/runs/" + second + "/comparison").expect(200).body();
        assertThat(compared.path("one").path("number").asLong()).isEqualTo(first);
        assertThat(besides(compared))
                .containsEntry("value n", "2|5|")
                .containsEntry("gave n", "2|5|+3")
                .containsEntry("state", "succeeded|succeeded|")
                .containsEntry("output a.csv", "2|4|+2 bytes");
        assertThat(besides(admin.get(path + "?with=" + bad).expect(200).body()))
                .containsEntry("state", "failed|succeeded|");
        admin.get(path + "?with=999999").expect(404);
        admin.get(path + "?with=x").expect(400);
        admin.post("/api/v1/people", Map.of("name", "looks.on", "password", Service.PASSWORD))
                .expect(201);
        Http outsider = service.as("looks.on", Service.PASSWORD);
        outsider.get(path + "?with=" + second).expect(404);
        assertThat(gantrel("run", "compare", String.valueOf(first), String.valueOf(second))
                        .expect(0)
                        .out())
                .contains("gave n", "+3", "output a.csv")
                .doesNotContain("state");
    }

    @Test
    @DisplayName("say what a default is today, and how the day goes with its night")
    void defaultsAndNight() {
        admin.bringIn(work.task(
                        "by-day",
                        "\"true\"",
                        "parameters: { day: { type: date, default: \"${planned.date - days(1)}\" } }"))
                .expect(200);
        JsonNode parameter =
                admin.get("/api/v1/jobs/by-day").body().path("parameters").get(0);
        assertThat(parameter.path("now").asString()).matches("\\d{4}-\\d{2}-\\d{2}");
        assertThat(parameter.path("nowWords").asString()).isEqualTo("the day before");
        JsonNode day = admin.get("/api/v1/today").body();
        JsonNode night = admin.get("/api/v1/today?since=night").body();
        assertThat(night.path("from").asString())
                .isLessThanOrEqualTo(day.path("from").asString());
        admin.get("/api/v1/today?since=ever").expect(422);
    }

    @Test
    @DisplayName("carry the logs that are asked for in the one stream, and refuse those that one may not see")
    void logsInTheStream() throws Exception {
        work.program("slow.sh", "echo one; until [ -e go-on ]; do sleep 0.05; done; echo two");
        admin.bringIn(work.task("slow", "./slow.sh", "")).expect(200);
        long number = admin.start("slow", Map.of());
        try (var stream = admin.lines("/api/v1/events?log=" + number + "@0")) {
            Iterator<String> lines = stream.iterator();
            work.write("go-on", "");
            var said = new StringBuilder();
            Await.until("the log has come through the stream", () -> {
                said.append(lines.next()).append('\n');
                return Stream.of("event:log.end", "run.changed").allMatch(said.toString()::contains);
            });
            assertThat(said.toString()).contains("event:log.lines", "one", "two");
        }
        admin.get("/api/v1/events?log=99999@0").expect(404);
        admin.get("/api/v1/events?log=first").expect(422);
    }
}
