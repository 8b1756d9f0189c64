package org.gantrel.service.storm;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import java.util.concurrent.CyclicBarrier;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.stream.Stream;
import org.gantrel.service.LiveService;
import org.gantrel.service.MovableClock;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Each pair of changes is right by itself, and not with the other: one of them has to be refused, whichever. */
@DisplayName("Of two changes at the same moment that do not go together")
class AtOnceTest {

    private static final int TIMES = 6;

    @TempDir
    static Path folder;

    private static LiveService service;
    private static Storm.Person mara;
    private static final ExecutorService BOTH = Executors.newFixedThreadPool(2);

    @BeforeAll
    static void open() throws Exception {
        service = LiveService.fresh(folder, new MovableClock(Instant.parse("2026-11-23T22:00:00Z")));
        mara = Storm.Person.administrator(service, "mara.holt");
    }

    @AfterAll
    static void close() {
        BOTH.shutdown();
        service.close();
    }

    private interface Change {
        int status();
    }

    /** Makes both at the same moment, many times; each time just one of them goes. */
    private static void onlyOneGoes(Runnable before, Change one, Change other, int refused) throws Exception {
        for (int i = 0; i < TIMES; i++) {
            before.run();
            var start = new CyclicBarrier(2);
            List<Future<Integer>> both = Stream.of(one, other)
                    .<Callable<Integer>>map(change -> () -> {
                        start.await();
                        return change.status();
                    })
                    .map(BOTH::submit)
                    .toList();
            int first = both.get(0).get();
            int second = both.get(1).get();
            assertThat(Math.min(first, second)).as("one goes").isBetween(200, 204);
            assertThat(Math.max(first, second)).as("the other is refused").isEqualTo(refused);
        }
    }

    private static int bringIn(String... texts) {
        return mara.bringIn(String.join("---\n", texts)).statusCode();
    }

    private static String calendar(String name, String more) {
        return "calendar: " + name + "\nteam: revenue\n" + more;
    }

    private static String task(String name, String more) {
        return "task: " + name + "\nteam: revenue\ndoes: { command: [ \"true\" ] }\n" + more;
    }

    private static String chain(String name, String job) {
        return "chain: " + name + "\nteam: revenue\nsteps: [ { step: one, job: " + job + " } ]\n";
    }

    @Test
    @DisplayName("calendars are not made of each other")
    void calendarsOfEachOther() throws Exception {
        onlyOneGoes(
                () -> bringIn(calendar("low", "days: weekdays\n"), calendar("high", "days: weekdays\n")),
                () -> bringIn(calendar("low", "days: weekdays\nexcept: [ high ]\n")),
                () -> bringIn(calendar("high", "days: weekdays\nexcept: [ low ]\n")),
                422);
    }

    @Test
    @DisplayName("chains are no steps of each other")
    void chainsOfEachOther() throws Exception {
        onlyOneGoes(
                () -> bringIn(task("sounds", ""), chain("ebb", "sounds"), chain("flow", "sounds")),
                () -> bringIn(chain("ebb", "flow")),
                () -> bringIn(chain("flow", "ebb")),
                422);
    }

    @Test
    @DisplayName("a lane that a job is just given is not taken out of use")
    void laneInUse() throws Exception {
        onlyOneGoes(
                () -> bringIn("lane: berth\nteam: revenue\nwidth: 1\n", task("moors", "")),
                () -> mara.call("DELETE", "lanes/berth", null).statusCode() == 204 ? 204 : 422,
                () -> bringIn(task("moors", "lanes: [ berth ]\n")),
                422);
    }

    @Test
    @DisplayName("a calendar that a schedule is just given is not taken out of use")
    void calendarInUse() throws Exception {
        onlyOneGoes(
                () -> bringIn(calendar("fair", "days: weekdays\n"), task("sails", "")),
                () -> mara.call("DELETE", "calendars/fair", null).statusCode() == 204 ? 204 : 422,
                () -> bringIn(task(
                        "sails", "schedules: [ { name: s, when: every day at 06:00, zone: UTC, calendar: fair } ]\n")),
                422);
    }

    @Test
    @DisplayName("a task that a chain is just given is not taken out of use")
    void taskInUse() throws Exception {
        onlyOneGoes(
                () -> bringIn(task("lifts", ""), task("lowers", ""), chain("bridge", "lowers")),
                () -> mara.call("DELETE", "jobs/lifts", null).statusCode() == 204 ? 204 : 422,
                () -> bringIn(chain("bridge", "lifts")),
                422);
    }

    @Test
    @DisplayName("two edits of the same revision are not both made: of a job, a calendar, a lane, and rows")
    void editsOfOneRevision() throws Exception {
        mara.mustBringIn(task("writes", "") + "---\n" + calendar("days", "days: weekdays\n")
                + "---\nlane: gate\nteam: revenue\nwidth: 1\n---\n"
                + "roster: decks\nteam: revenue\ncolumns: [ deck ]\nrows: [ { deck: upper } ]\n");
        for (Map.Entry<String, String> each : Map.of(
                        "jobs/writes", task("writes", "about: %s\n"),
                        "calendars/days", calendar("days", "days: weekdays\nabout: %s\n"),
                        "lanes/gate", "lane: gate\nteam: revenue\nwidth: 1\nabout: %s\n")
                .entrySet()) {
            var tag = new String[1];
            onlyOneGoes(
                    () -> tag[0] = mara.tag(each.getKey()),
                    () -> mara.edit(
                            each.getKey(),
                            tag[0],
                            Map.of("definition", each.getValue().formatted("one"))),
                    () -> mara.edit(
                            each.getKey(),
                            tag[0],
                            Map.of("definition", each.getValue().formatted("two"))),
                    412);
        }
        var tag = new String[1];
        onlyOneGoes(
                () -> tag[0] = mara.tag("rosters/decks/rows"),
                () -> mara.edit("rosters/decks/rows", tag[0], Map.of("csv", "deck\nlower\n")),
                () -> mara.edit("rosters/decks/rows", tag[0], Map.of("csv", "deck\nmiddle\n")),
                412);
    }

    @Test
    @DisplayName("a name is not given twice")
    void oneName() throws Exception {
        var count = new int[1];
        onlyOneGoes(
                () -> count[0]++,
                () -> mara.call("POST", "jobs", Map.of("definition", task("new-" + count[0], "about: one\n")))
                        .statusCode(),
                () -> mara.call("POST", "jobs", Map.of("definition", task("new-" + count[0], "about: two\n")))
                        .statusCode(),
                409);
        onlyOneGoes(
                () -> count[0]++,
                () -> mara.call("POST", "teams", Map.of("name", "new-" + count[0]))
                        .statusCode(),
                () -> mara.call("POST", "teams", Map.of("name", "new-" + count[0]))
                        .statusCode(),
                409);
    }

    @Test
    @DisplayName("administrators do not shut each other")
    void shutEachOther() throws Exception {
        Storm.Person[] both = new Storm.Person[2];
        Storm.Person.administrator(service, "ivo.brandt");
        Storm.Person.administrator(service, "tove.lind");
        onlyOneGoes(
                () -> {
                    for (String name : List.of("ivo.brandt", "tove.lind")) {
                        mara.call("PUT", "people/" + name + "/shut", Map.of("shut", false));
                    }
                    both[0] = Storm.Person.signedIn(service, "ivo.brandt");
                    both[1] = Storm.Person.signedIn(service, "tove.lind");
                },
                () -> both[0].call("PUT", "people/tove.lind/shut", Map.of("shut", true))
                        .statusCode(),
                () -> both[1].call("PUT", "people/ivo.brandt/shut", Map.of("shut", true))
                        .statusCode(),
                401);
    }
}
