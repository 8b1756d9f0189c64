package org.gantrel.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.net.InetAddress;
import java.net.ServerSocket;
import java.nio.file.Files;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.stream.LongStream;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

@DisplayName("A service that is stopped or killed in the middle of things")
class RestartTest extends OneService {

    private static final String SLOW =
            """
            echo $GANTREL_RUN >> starts
            echo "line 1"
            echo "line 2"
            until [ -e go ]; do sleep 0.1; done
            for i in 3 4 5 6; do echo "line $i"; sleep 0.2; done
            exit 3""";

    @BeforeEach
    void anotherFolder() {
        work = new Work();
    }

    private static void finishesWhole(long number) {
        JsonNode run = service.ended(admin, number);
        assertThat(run.path("state").asString()).isEqualTo("failed");
        assertThat(run.path("exitCode").asInt()).isEqualTo(3);
        assertThat(admin.get("/api/v1/runs/" + number + "/log").text().lines())
                .containsExactly("line 1", "line 2", "line 3", "line 4", "line 5", "line 6");
        assertThat(work.read("starts")).isEqualTo(number + "\n");
    }

    private static void waitForLog(long number, String line) {
        Await.until(
                "the log says " + line,
                () -> admin.get("/api/v1/runs/" + number + "/log").text().contains(line));
    }

    @Test
    @DisplayName("by kill -9 finds a run again: it goes on, its log is whole, its exit code known")
    void killed() throws Exception {
        work.program("slow.sh", SLOW);
        admin.bringIn(work.task("slow", "./slow.sh", "")).expect(200);
        long number = admin.start("slow", Map.of());
        waitForLog(number, "line 2");
        killAndStart();
        assertThat(admin.get("/api/v1/runs/" + number).body().path("state").asString())
                .isEqualTo("running");
        work.write("go", "");
        finishesWhole(number);
    }

    @Test
    @DisplayName("leaves a run alone that ends while nobody watches, and knows afterwards when and how it ended")
    void endsUnwatched() throws Exception {
        work.program("slow.sh", SLOW);
        admin.bringIn(work.task("slow", "./slow.sh", "")).expect(200);
        long number = admin.start("slow", Map.of());
        waitForLog(number, "line 1");
        service.stop();
        work.write("go", "");
        var exit = service.data()
                .resolve("runs/" + number / 1000 + "/" + number + "/exit")
                .toFile();
        Await.until("the command has ended", exit::exists);
        startAgain();
        finishesWhole(number);
        JsonNode run = admin.get("/api/v1/runs/" + number).body();
        Instant finished = Instant.parse(run.path("finishedAt").asString());
        assertThat(finished).isBeforeOrEqualTo(Instant.ofEpochMilli(exit.lastModified() + 1));
    }

    @Test
    @DisplayName("by kill -9 leads a chain on from where it was")
    void killedWithinAChain() throws Exception {
        work.program("one.sh", "echo one >> order; until [ -e go ]; do sleep 0.1; done")
                .program("two.sh", "echo two >> order; exit 1")
                .program("three.sh", "echo three >> order");
        admin.bringIn(
                        String.join(
                                "---\n",
                                work.task("one", "./one.sh", ""),
                                work.task("two", "./two.sh", ""),
                                work.task("three", "./three.sh", ""),
                                """
                        chain: all
                        team: revenue
                        steps: [ { job: one }, { job: two }, { job: three, on: failure }, { step: never, job: one, after: two } ]
                        """))
                .expect(200);
        long number = admin.start("all", Map.of());
        Await.until("the first step works", () -> work.read("order").equals("one\n"));
        killAndStart();
        work.write("go", "");
        JsonNode run = service.ended(admin, number);
        assertThat(run.path("state").asString()).isEqualTo("warned");
        assertThat(run.path("message").asString()).isEqualTo("step two failed, which a later step saw to");
        assertThat(run.path("steps").valueStream().map(step -> step.path("state")
                        .asString()))
                .containsExactly("succeeded", "failed", "succeeded", "out-of-reach");
        assertThat(work.read("order")).isEqualTo("one\ntwo\nthree\n");
    }

    @Test
    @DisplayName("again and again starts each occurrence once, and gives its runs numbers without a gap")
    void killedAgainAndAgain() throws Exception {
        work.program("tick.sh", "echo $GANTREL_PLANNED >> ticks");
        admin.bringIn(work.task("tick", "./tick.sh", Work.OFTEN)).expect(200);
        for (int i = 0; i < 3; i++) {
            killAndStart();
        }
        Await.until("it starts again", () -> work.read("ticks").lines().count() > 1);
        service.gantrel(admin.token(), "schedule", "off", "tick").expect(0);
        Await.until("all that was begun has ended", () -> admin.get("/api/v1/runs?job=tick&state=waiting,running")
                .body()
                .isEmpty());
        List<Instant> due = admin.get("/api/v1/jobs/tick/schedules/often/occurrences?limit=500")
                .body()
                .valueStream()
                .map(each -> Instant.parse(each.path("at").asString()))
                .sorted()
                .toList();
        assertThat(due)
                .as("each is accounted for, and once")
                .isEqualTo(Stream.iterate(due.get(0), at -> at.plusSeconds(10))
                        .limit(due.size())
                        .toList());
        JsonNode ran = admin.get("/api/v1/runs?job=tick&state=succeeded").body();
        assertThat(work.read("ticks").lines())
                .containsExactlyInAnyOrderElementsOf(ran.valueStream()
                        .map(run -> run.path("plannedAt").asString())
                        .toList());
        List<Long> numbers = admin.get("/api/v1/runs?limit=500")
                .body()
                .valueStream()
                .map(run -> run.path("number").asLong())
                .sorted()
                .toList();
        assertThat(numbers)
                .isEqualTo(LongStream.range(1001, 1001 + numbers.size()).boxed().toList());
    }

    @Test
    @DisplayName("says of a command that was killed from outside that it was")
    void commandKilledFromOutside() throws Exception {
        work.program("sleeper.sh", "echo up; sleep 60");
        admin.bringIn(work.task("sleeper", "./sleeper.sh", "")).expect(200);
        long number = admin.start("sleeper", Map.of());
        waitForLog(number, "up");
        service.kill();
        String mark = Files.readString(service.data().resolve("runs/" + number / 1000 + "/" + number + "/process"));
        new ProcessBuilder("/bin/sh", "-c", "kill -KILL -" + mark.split(" ")[0])
                .start()
                .waitFor();
        startAgain();
        JsonNode run = service.ended(admin, number);
        assertThat(run.path("state").asString()).isEqualTo("failed");
        assertThat(run.path("message").asString()).contains("without leaving an exit code: it was killed from outside");
    }

    @Test
    @DisplayName("lets the latest start after all that was due meanwhile, where the schedule wants that, and once only")
    void catchesUp() throws Exception {
        work.program("tick.sh", "echo $GANTREL_PLANNED >> ticks");
        // a rule of iCalendar may name a second, so nobody has to wait for the next minute
        Instant first = Instant.ofEpochSecond(Instant.now().getEpochSecond() + 4);
        String rule = "DTSTART:" + first.toString().replaceAll("[-:Z]", "") + " RRULE:FREQ=DAILY";
        admin.bringIn(work.task(
                        "late",
                        "./tick.sh",
                        """
                        schedules:
                          - { name: wanted, when: "%1$s", zone: UTC, missed: { run: latest, within: PT1H } }
                          - { name: not-wanted, when: "%1$s", zone: UTC }
                        """
                                .formatted(rule)))
                .expect(200);
        service.gantrel(admin.token(), "schedule", "off", "late").expect(0);
        Await.until("the time has come", () -> Instant.now().isAfter(first.plusSeconds(1)));
        killAndStart();
        service.gantrel(admin.token(), "schedule", "on", "late").expect(0);
        Await.until("it ran", () -> !work.read("ticks").isEmpty());
        assertThat(work.read("ticks").lines()).allMatch(line -> line.equals(first.toString()));
        // the other schedule is within the grace and starts as well, and may be the first of the two
        String occurrences = "/api/v1/jobs/late/schedules/wanted/occurrences";
        Await.until("it is accounted for", () -> !admin.get(occurrences).body().isEmpty());
        JsonNode found = admin.get(occurrences).body();
        assertThat(found.path(0).path("at").asString()).isEqualTo(first.toString());
        assertThat(found).hasSize(1);
    }

    @Test
    @DisplayName("does not repeat work of its own that was under way: it failed, and nobody knows how far it came")
    void doesNotRepeatItsOwnWork() throws Exception {
        try (var silent = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
            admin.bringIn("task: ask\nteam: revenue\ndoes: { request: \"http://127.0.0.1:" + silent.getLocalPort()
                            + "/\", patience: PT1H }\n")
                    .expect(200);
            long number = admin.start("ask", Map.of());
            Await.until("it is under way", () -> admin.get("/api/v1/runs/" + number)
                    .body()
                    .path("state")
                    .asString()
                    .equals("running"));
            killAndStart();
            JsonNode run = service.ended(admin, number);
            assertThat(run.path("state").asString()).isEqualTo("failed");
            assertThat(run.path("message").asString()).contains("how far it came is not known, and it is not repeated");
        }
    }
}
