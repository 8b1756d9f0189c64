package org.gantrel.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

@DisplayName("A job over a roster")
class SweepTest extends OneService {

    @BeforeAll
    static void begin() {
        work.program("settle.sh", "echo settling $1; echo $1 >> done.txt; [ $1 != moon ]")
                .program("wait.sh", "echo $1 >> begun.txt; until [ -e go ]; do sleep 0.05; done");
        admin.bringIn(
                        """
                task: settle
                team: revenue
                parameters: { route: { type: text, about: the route } }
                does: { command: [ ./settle.sh, "${route}" ], in: %1$s }
                ---
                task: wait
                team: revenue
                parameters: { route: { type: text } }
                does: { command: [ ./wait.sh, "${route}" ], in: %1$s }
                ---
                roster: routes
                team: revenue
                about: The routes
                columns: [ route ]
                at-once: 2
                """
                                .formatted(work.folder()))
                .expect(200);
    }

    private static Path csv(String name, String text) throws Exception {
        return Files.writeString(work.folder().resolve(name), text);
    }

    @Test
    @DisplayName("takes rows of a file, runs each, and is found again with what became of each")
    void runsEachRow() throws Exception {
        assertThat(gantrel(
                                "roster",
                                "load",
                                "routes",
                                csv("bad.csv", "route\nsound,1\n").toString())
                        .code())
                .isEqualTo(2);
        Path file = csv("routes.csv", "route,include\nskarholm,yes\nsound,yes\nfar,no\nmoon,yes\n");
        gantrel("roster", "load", "routes", file.toString()).expect(0);
        Shell.Result run = gantrel("job", "start", "settle", "--over", "routes", "--wait", "--format", "json");
        assertThat(run.code()).isEqualTo(1);
        JsonNode sweep = Http.JSON.readTree(run.out());
        assertThat(sweep.path("kind").asString()).isEqualTo("sweep");
        assertThat(sweep.path("message").asString()).isEqualTo("1 of 3 rows failed, 1 left out: row 4 (moon)");
        String number = sweep.path("number").asString();
        assertThat(gantrel("run", "rows", number, "--state", "failed").expect(0).out())
                .contains("route=moon", "exit code 1");
        assertThat(gantrel("roster", "rows", "routes", "--format", "csv")
                        .expect(0)
                        .out())
                .contains("3,no,", "4,yes,failed");
        assertThat(gantrel("roster", "export", "routes").expect(0).out())
                .isEqualTo("route,include\r\nskarholm,yes\r\nsound,yes\r\nfar,no\r\nmoon,yes\n");
        assertThat(work.read("done.txt").lines()).containsExactlyInAnyOrder("skarholm", "sound", "moon");
        JsonNode child = admin.get("/api/v1/runs/" + number + "/rows?state=failed")
                .body()
                .path(0);
        JsonNode row = admin.get("/api/v1/runs/" + child.path("run").asLong()).body();
        assertThat(row.path("cause").asString()).isEqualTo("sweep");
        assertThat(row.path("parent").asString()).isEqualTo(number);
        assertThat(row.path("parameters").path("route").asString()).isEqualTo("moon");
        assertThat(admin.post("/api/v1/runs/" + number + "/repeats", Map.of())
                        .expect(409)
                        .detail())
                .contains("a sweep is not repeated as it is");
    }

    @Test
    @DisplayName("takes every one of more rows than are read at a time, and again those of them that failed")
    void takesEveryRow() throws Exception {
        admin.bringIn("task: choosy\nteam: revenue\nparameters: { route: { type: choice, of: [ sound ] } }\n"
                        + "does: { shell: echo }\n---\nroster: long\nteam: revenue\ncolumns: [ route ]\n")
                .expect(200);
        gantrel(
                        "roster",
                        "load",
                        "long",
                        csv("long.csv", "route\n" + "nowhere\n".repeat(1_100)).toString())
                .expect(0);
        JsonNode all = sweep("choosy", Map.of("roster", "long"));
        assertThat(all.path("message").asString()).startsWith("1100 of 1100 rows failed: row 1 (nowhere), row 2");
        JsonNode again = sweep("choosy", Map.of("roster", "long", "rows", "failed", "afterFailure", "stop"));
        JsonNode counts = admin.get("/api/v1/runs/" + again.path("number").asLong() + "/sweep")
                .body()
                .path("counts");
        assertThat(counts.path("failed").asInt()).isPositive();
        assertThat(counts.path("failed").asInt() + counts.path("not-reached").asInt())
                .isEqualTo(1_100);
    }

    private static JsonNode sweep(String job, Map<String, String> over) {
        return service.ended(
                admin,
                admin.post("/api/v1/jobs/" + job + "/runs", Map.of("over", over))
                        .expect(201)
                        .body()
                        .path("number")
                        .asLong());
    }

    @Test
    @DisplayName("has rows that are edited one by one, all together or not at all, and only as they were last read")
    void hasRowsThatAreEdited() throws Exception {
        admin.bringIn("roster: fares\nteam: revenue\ncolumns: [ route, cents ]\nrows:\n"
                        + "  - { route: skarholm, cents: \"1\" }\n  - { route: sound, cents: \"2\" }\n")
                .expect(200);
        String rows = "/api/v1/rosters/fares/rows";
        String tag = admin.get(rows).header("ETag");
        Http edit = admin.with("If-Match", tag);
        var wrong = Map.of(
                "changed", List.of(Map.of("place", 1, "values", Map.of("cent", "3")), Map.of("place", 9)),
                "added", List.of(Map.of("values", Map.of("note", "x".repeat(100_001)))),
                "removed", List.of(0));
        assertThat(edit.patch(rows, wrong).expect(422).detail())
                .contains(
                        "'cent' is no column of the roster; there are route, cents; did you mean 'cents'?",
                        "\"row 9\"",
                        "\"row 0\"",
                        "there is no such row",
                        "\"new row 1\"",
                        "is longer than 100000 characters");
        assertThat(admin.get(rows).header("ETag")).as("nothing was changed").isEqualTo(tag);
        assertThat(admin.patch(rows, Map.of()).expect(428).detail()).contains("an edit carries If-Match");
        edit.patch(
                        rows,
                        Map.of(
                                "changed", List.of(Map.of("place", 2, "included", false)),
                                "added", List.of(Map.of("values", Map.of("route", "far"))),
                                "removed", List.of(1)))
                .expect(200);
        assertThat(edit.patch(rows, Map.of("removed", List.of(2))).expect(412).detail())
                .contains("the list of rows of fares was changed meanwhile by admin");
        admin.bringIn("roster: fares\nteam: revenue\ncolumns: [ route, cents ]\nat-once: 3\nrows:\n"
                        + "  - { route: skarholm, cents: \"1\" }\n  - { route: sound, cents: \"2\" }\n")
                .expect(200);
        assertThat(gantrel("roster", "export", "fares").expect(0).out())
                .as("rows that were edited are not put back by a change of something else")
                .isEqualToNormalizingNewlines("route,cents,include\nsound,2,no\nfar,,yes\n");
        assertThat(gantrel(
                                "roster",
                                "load",
                                "fares",
                                csv("maybe.csv", "route,include\nfar,maybe\n").toString())
                        .expect(2)
                        .err())
                .contains("line 2", "'maybe' is neither yes nor no");
        assertThat(admin.get("/api/v1/changes?limit=3").text()).contains("1 row changed, 1 added, 1 removed");
    }

    @Test
    @DisplayName("has rows bounded as they will be, whichever way they come")
    void boundsItsRows() throws Exception {
        admin.bringIn("roster: wide\nteam: revenue\ncolumns: [ route, cents ]\nrows:\n"
                        + "  - { route: skarholm, cents: \"1\" }\n")
                .expect(200);
        String rows = "/api/v1/rosters/wide/rows";
        Http edit = admin.with("If-Match", admin.get(rows).header("ETag"));
        var nothing = new HashMap<String, Object>();
        nothing.put("removed", Arrays.asList((Object) null));
        assertThat(edit.patch(rows, nothing).expect(422).detail()).contains("null is no row");
        String half = "y".repeat(60_000);
        edit.patch(rows, Map.of("changed", List.of(Map.of("place", 1, "values", Map.of("route", half)))))
                .expect(200);
        edit = admin.with("If-Match", admin.get(rows).header("ETag"));
        assertThat(edit.patch(rows, Map.of("changed", List.of(Map.of("place", 1, "values", Map.of("cents", half)))))
                        .expect(422)
                        .detail())
                .as("with what is there already")
                .contains("\"row 1\"", "is longer than 100000 characters");
        String csv = csv("wide.csv", "route,cents\n" + half + "," + half + "\n").toString();
        assertThat(gantrel("roster", "load", "wide", csv).expect(2).err())
                .contains("row 1", "is longer than 100000 characters");
    }

    @Test
    @DisplayName("that is cancelled stops the rows under way and begins no more")
    void isCancelled() throws Exception {
        admin.bringIn("roster: few\nteam: revenue\ncolumns: [ route ]\n"
                        + "rows: [ { route: a }, { route: b }, { route: c } ]\n")
                .expect(200);
        JsonNode run = admin.post("/api/v1/jobs/wait/runs", Map.of("over", Map.of("roster", "few")))
                .expect(201)
                .body();
        long number = run.path("number").asLong();
        Await.until("the first row is under way", () -> work.read("begun.txt").contains("a"));
        admin.post("/api/v1/runs/" + number + "/cancellation", Map.of()).expect(200);
        JsonNode ended = service.ended(admin, number);
        assertThat(ended.path("state").asString()).isEqualTo("cancelled");
        assertThat(admin.get("/api/v1/runs/" + number + "/sweep")
                        .body()
                        .path("counts")
                        .toString())
                .contains("\"not-reached\":2", "\"failed\":1");
    }

    @Test
    @DisplayName("goes on after kill -9: no row is lost, none is run twice")
    void goesOnAfterAKill() throws Exception {
        var own = new Work()
                .program("row.sh", "echo $1 >> rows.txt; while [ ! -e go ] && [ $1 = r3 ]; do sleep 0.05; done");
        var rows = new StringBuilder("route\n");
        for (int i = 1; i <= 40; i++) {
            rows.append("r").append(i).append('\n');
        }
        own.write("many.csv", rows.toString());
        admin.bringIn(
                        """
                task: row
                team: revenue
                parameters: { route: { type: text } }
                does: { command: [ ./row.sh, "${route}" ], in: %1$s }
                ---
                roster: many
                team: revenue
                from: { csv: %1$s/many.csv }
                at-once: 2
                """
                                .formatted(own.folder()))
                .expect(200);
        long number = admin.post("/api/v1/jobs/row/runs", Map.of("over", Map.of("roster", "many")))
                .expect(201)
                .body()
                .path("number")
                .asLong();
        Await.until("some rows are through", () -> own.read("rows.txt").lines().count() > 6);
        service.kill();
        own.write("go", "");
        startAgain();
        JsonNode ended = service.ended(admin, number);
        assertThat(ended.path("message").asString()).isEqualTo("40 rows went well");
        List<String> done = own.read("rows.txt").lines().toList();
        Set<String> each = new HashSet<>(done);
        assertThat(each).hasSize(40);
        assertThat(done).hasSameSizeAs(each);
    }

    @Test
    @DisplayName("is refused for a roster that is not there, or rows that are none, in the words of the command line")
    void isRefused() {
        assertThat(gantrel("job", "start", "settle", "--over", "routs").err())
                .contains("there is no roster 'routs'; did you mean 'routes'?");
        assertThat(gantrel("job", "start", "settle", "--over", "routes", "--rows", "some")
                        .err())
                .contains("all, failed, or places such as 1,4-7 would be right");
        assertThat(gantrel("job", "start", "settle", "--over", "routes", "--at-once", "1000")
                        .err())
                .contains("a number from 1 to 64 would be right");
        assertThat(admin.bringIn(work.task(
                                "late",
                                "./settle.sh",
                                "schedules: [ { name: n, when: every day at 02:30," + " zone: UTC, over: routs } ]"))
                        .expect(422)
                        .detail())
                .contains("there is no roster 'routs'; did you mean 'routes'?");
    }
}
