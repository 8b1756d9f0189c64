package org.gantrel.service.engine;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import jakarta.persistence.EntityManager;
import jakarta.persistence.EntityManagerFactory;
import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.run.RunState;
import org.gantrel.service.Await;
import org.gantrel.service.LiveService;
import org.gantrel.service.MovableClock;
import org.gantrel.service.hold.Hold;
import org.gantrel.service.hold.Holds;
import org.gantrel.service.journal.Journal;
import org.gantrel.service.lane.Lanes;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.RunWaits;
import org.gantrel.service.run.Runs;
import org.gantrel.service.run.Starts;
import org.gantrel.service.run.Wishes;
import org.gantrel.service.team.Teams;
import org.gantrel.service.time.Waker;
import org.gantrel.service.traffic.Watchman;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What happens with nobody watching, each in a service that runs, with a clock that the test moves. */
@DisplayName("With nobody watching")
class UnattendedTest {

    private static final MovableClock CLOCK = new MovableClock(Instant.parse("2026-11-23T01:00:00Z"));

    @TempDir
    private static Path folder;

    private static LiveService service;

    @BeforeAll
    static void open() {
        service = LiveService.fresh(folder, CLOCK);
        service.bean(Teams.class).create(LiveService.SERVICE, "fleet", "");
    }

    @AfterAll
    static void close() {
        service.close();
    }

    /** A task that goes on until a file of its name and first value is there. */
    private static void waiting(String name, String more) {
        service.task(
                name,
                "until test -e " + folder + "/go-" + name + "-$X; do sleep 0.05; done",
                "parameters: { x: { type: text, default: a } }\n" + more);
        // the value comes to the shell by its environment
        service.define("task: " + name + "\nteam: revenue\nparameters: { x: { type: text, default: a } }\n"
                + "does: { command: [ /bin/sh, -c, \"until test -e " + folder + "/go-" + name
                + "-$X; do sleep 0.05; done\" ], environment: { X: \"${x}\" } }\n" + more);
    }

    private static void letGo(String name, String value) throws IOException {
        Files.writeString(folder.resolve("go-" + name + "-" + value), "");
    }

    private static Run start(String name, String... value) {
        return service.bean(Starts.class)
                .start(
                        LiveService.SERVICE,
                        name,
                        value.length == 0 ? Map.of() : Map.of("x", value[0]),
                        Optional.empty());
    }

    private static void waitsFor(Run run, String what) {
        String[] last = {""};
        try {
            Await.until(run.number() + " waits for " + what, () -> {
                Run now = service.found(run.number());
                last[0] =
                        now.state() + " " + now.attempt() + " " + now.waitingFor() + " " + now.message() + now.again();
                return now.waitingFor().startsWith(what);
            });
        } catch (AssertionError e) {
            throw new AssertionError(last[0], e);
        }
    }

    private static void move(Duration by) {
        CLOCK.moveBy(by);
        service.bean(Waker.class).wake();
    }

    @Test
    @DisplayName("a later run of a job waits for the earlier, and what it waited for is kept")
    void waits() throws IOException {
        waiting("settle", "");
        Run first = start("settle");
        Run second = start("settle");
        waitsFor(second, "run " + first.number() + " of settle to end");
        letGo("settle", "a");
        assertThat(service.ended(second).state()).isEqualTo(RunState.SUCCEEDED);
        assertThat(service.bean(RunWaits.class).of(second.number()))
                .singleElement()
                .satisfies(wait -> {
                    assertThat(wait.kind()).isEqualTo("overlap");
                    assertThat(wait.until()).isPresent();
                });
    }

    @Test
    @DisplayName("or is skipped, or takes its place, or is told apart by a value")
    void overlaps() throws IOException {
        waiting("skips", "while-running: skip\n");
        Run first = start("skips");
        assertThat(service.ended(start("skips")).message())
                .isEqualTo("it would have had to wait for run " + first.number() + " of skips to end");
        letGo("skips", "a");
        waiting("replaces", "while-running: replace\nstop-patience: 2 s\n");
        Run replaced = start("replaces");
        service.underway(replaced);
        Run later = start("replaces");
        assertThat(service.ended(replaced).message())
                .isEqualTo("cancelled by run " + later.number() + ", which takes its place");
        letGo("replaces", "a");
        assertThat(service.ended(later).state()).isEqualTo(RunState.SUCCEEDED);
        waiting("apart", "apart-by: [ x ]\n");
        Run north = start("apart", "north");
        Run south = start("apart", "south");
        Run again = start("apart", "north");
        service.underway(north);
        service.underway(south);
        waitsFor(again, "run " + north.number() + " of apart with x north to end");
        letGo("apart", "north");
        letGo("apart", "south");
        service.ended(again);
    }

    @Test
    @DisplayName("a lane is never overfull, closes and opens, and is not removed while somebody needs it")
    void lanes() throws IOException {
        service.define("lane: planning\nteam: revenue\nwidth: 1\nfor-teams: [ fleet ]\n");
        waiting("plan-crew", "lanes: [ planning ]\n");
        waiting("plan-stock", "lanes: { planning: 1 }\npriority: 9\n");
        Run first = start("plan-crew");
        service.underway(first);
        Run second = start("plan-stock");
        waitsFor(second, "a place in lane planning: 1 of 1 taken");
        Lanes lanes = service.bean(Lanes.class);
        lanes.shut(LiveService.SERVICE, "planning", "stocktaking");
        letGo("plan-crew", "a");
        service.ended(first);
        waitsFor(second, "lane planning to open: closed by gantrel: stocktaking");
        letGo("plan-stock", "a");
        lanes.open(LiveService.SERVICE, "planning");
        assertThat(service.ended(second).state()).isEqualTo(RunState.SUCCEEDED);
        assertThat(service.bean(RunWaits.class).of(second.number()))
                .as("a lane that is closed is another reason than one that is full")
                .extracting(RunWaits.Waited::what)
                .containsExactly(
                        "a place in lane planning: 1 of 1 taken",
                        "lane planning to open: closed by gantrel: stocktaking");
        assertThatThrownBy(() -> lanes.retire(LiveService.SERVICE, "planning"))
                .hasMessageContaining("plan-crew, plan-stock");
        assertThatThrownBy(() -> service.task("wide", "true", "lanes: { planning: 2 }\n"))
                .hasMessageContaining("takes 2 places of the lane planning, which has 1");
    }

    @Test
    @DisplayName("a chain holds its lane for its steps, which do not need it again")
    void chainsHoldLanes() {
        service.define("lane: night\nteam: revenue\nwidth: 1\n");
        service.task("step-one", "true", "lanes: [ night ]\n");
        service.define("chain: whole-night\nteam: revenue\nlanes: [ night ]\nsteps: [ { job: step-one } ]\n");
        assertThat(service.ended(start("whole-night")).state()).isEqualTo(RunState.SUCCEEDED);
    }

    @Test
    @DisplayName("what failed is tried again, each try with its own log, over a restart too")
    void triesAgain() throws IOException {
        service.task(
                "flaky",
                "echo try $GANTREL_TRY; test $GANTREL_TRY = 3",
                "retry: { tries: 3, wait: 10 min, growth: 2 }\n");
        Run run = start("flaky");
        waitsFor(run, "try 2 of 3");
        service.restart();
        assertThat(service.found(run.number()).again().orElseThrow().last().message())
                .startsWith("exit code 1");
        move(Duration.ofMinutes(10));
        waitsFor(run, "try 3 of 3");
        service.bean(Wishes.class).want(run.number(), Wishes.Kind.TRY_NOW, "mara", CLOCK.instant());
        Run ended = service.ended(run);
        assertThat(ended.state()).isEqualTo(RunState.SUCCEEDED);
        assertThat(ended.attempt()).isEqualTo(3);
        assertThat(service.bean(RunWaits.class).of(run.number()))
                .hasSize(2)
                .allMatch(wait -> !wait.until().orElseThrow().isBefore(wait.since()));
        Path own = service.folder(run);
        assertThat(Files.readString(own.resolve("log"))).isEqualTo("try 3\n");
        assertThat(Files.readString(own.resolveSibling(run.number() + "-try-1").resolve("log")))
                .isEqualTo("try 1\n");
        Run given = start("flaky");
        waitsFor(given, "try 2 of 3");
        service.bean(Wishes.class).want(given.number(), Wishes.Kind.GIVE_UP, "mara", CLOCK.instant());
        assertThat(service.ended(given).message()).endsWith("; given up by mara before try 2");
    }

    @Test
    @DisplayName("gates are waited for with patience, and then the run is skipped; one may choose not to wait")
    void gates() throws IOException {
        Path tide = folder.resolve("tide.csv");
        service.task(
                "loads",
                "true",
                "gates: [ { file: \"" + tide + "\" } ]\ngate-patience: { look-every: 1 min, for: 1 h }\n");
        Run first = start("loads");
        waitsFor(first, "the file " + tide + ": it is not there");
        Files.writeString(tide, "x");
        move(Duration.ofMinutes(1));
        assertThat(service.ended(first).state()).isEqualTo(RunState.SUCCEEDED);
        Files.delete(tide);
        Run second = start("loads");
        waitsFor(second, "the file " + tide);
        for (int i = 0; i < 61; i++) {
            move(Duration.ofMinutes(1));
            Await.until("it was looked at", () -> true);
        }
        assertThat(service.ended(second).message()).startsWith("waited 1 h for the file " + tide);
        assertThat(service.found(second.number()).state()).isEqualTo(RunState.SKIPPED);
    }

    @Test
    @DisplayName(
            "a gate whose look hangs does not outlast the patience, and a further try does not wait for gates again")
    void hangingGates() throws IOException {
        try (var silent = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
            service.task(
                    "asks",
                    "true",
                    "gates: [ { request: \"http://127.0.0.1:" + silent.getLocalPort() + "/\", patience: 1 h } ]\n"
                            + "gate-patience: { look-every: 1 min, for: 10 min, then: fail }\n");
            Run run = start("asks");
            waitsFor(run, "its gates, which are being looked at");
            move(Duration.ofMinutes(10));
            assertThat(service.ended(run).message())
                    .isEqualTo("waited 10 min for an answer from http://127.0.0.1:" + silent.getLocalPort()
                            + "/: no look at it was over in that time");
        }
        Path there = folder.resolve("there.csv");
        Files.writeString(there, "x");
        service.task(
                "once-looked",
                "rm " + there + " 2>/dev/null && exit 1 || exit 0",
                "gates: [ { file: \"" + there + "\" } ]\nretry: { tries: 2, wait: 1 h }\n");
        Run tried = start("once-looked");
        waitsFor(tried, "try 2 of 2");
        move(Duration.ofHours(1));
        assertThat(service.ended(tried).state()).isEqualTo(RunState.SUCCEEDED);
    }

    @Test
    @DisplayName("a crowded lane is told of once, over a restart too")
    void crowd() throws IOException {
        service.define("lane: quay\nteam: revenue\nwidth: 1\n");
        waiting("moors", "lanes: [ quay ]\nwhile-running: 5\n");
        Run first = start("moors");
        service.underway(first);
        Run second = start("moors");
        waitsFor(second, "a place in lane quay");
        crowdsAfter(Duration.ofMinutes(11));
        assertThat(crowds()).isEqualTo(1);
        service.restart();
        waitsFor(second, "a place in lane quay");
        crowdsAfter(Duration.ofMinutes(11));
        assertThat(crowds()).isEqualTo(1);
        letGo("moors", "a");
        service.ended(second);
    }

    /** Lanes are looked at each half minute at most, by the moved clock. */
    private static void crowdsAfter(Duration wait) {
        move(Duration.ofMinutes(1));
        service.bean(Watchman.class).round();
        move(wait);
        service.bean(Watchman.class).round();
    }

    private static long crowds() {
        return service.bean(Journal.class).after(0, 100_000).stream()
                .filter(event -> event.type().equals("gantrel.lane.crowded"))
                .count();
    }

    @Test
    @DisplayName("a hold keeps what comes due, or skips it, and is seen as the reason")
    void holds() {
        service.task("patient", "true", "");
        service.task("dropped", "true", "");
        Holds holds = service.bean(Holds.class);
        Hold keeps = holds.lay(LiveService.SERVICE, hold("patient", false));
        Run kept = start("patient");
        waitsFor(kept, "the end of a hold of the job patient, held by gantrel: new pumps");
        holds.end(LiveService.SERVICE, keeps.id());
        assertThat(service.ended(kept).state()).isEqualTo(RunState.SUCCEEDED);
        holds.lay(LiveService.SERVICE, hold("dropped", true));
        assertThat(service.ended(start("dropped")).message())
                .isEqualTo("on hold: the job dropped, held by gantrel: new pumps");
    }

    private static Hold hold(String job, boolean skips) {
        Hold hold = Hold.wanted(Hold.Scope.JOB, job, CLOCK.instant(), Optional.empty(), "new pumps", "gantrel");
        return skips ? hold.skipping() : hold;
    }

    @Test
    @DisplayName("what is still under way at the end of its window is stopped, and what has not begun is not started")
    void windows() throws IOException {
        waiting("windowed", "stop-at: \"05:30\"\n");
        CLOCK.moveTo(Instant.parse("2026-11-24T05:29:59.500Z"));
        Run first = start("windowed");
        Run second = start("windowed");
        waitsFor(second, "run " + first.number());
        CLOCK.moveTo(Instant.parse("2026-11-24T05:30:01Z"));
        service.bean(Waker.class).wake();
        assertThat(service.ended(first).message()).isEqualTo("stopped at the end of its window");
        assertThat(service.ended(second).message()).isEqualTo("its window ended at 05:30 before it could start");
        assertThat(List.of(
                        service.found(first.number()).state(),
                        service.found(second.number()).state()))
                .containsExactly(RunState.TIMED_OUT, RunState.SKIPPED);
    }

    @Test
    @DisplayName("chains and sweeps are stopped at the end of their window and at their limit; what is last still runs")
    void parentsEnd() {
        waiting("unending", "stop-at: \"05:30\"\n");
        service.task("swept-up", "true", "");
        service.define("roster: berths\nteam: revenue\ncolumns: [ x ]\nrows: [ { x: a }, { x: b } ]\nat-once: 1\n");
        service.define("chain: short\nteam: revenue\ntime-limit: 1 s\nsteps: [ { job: unending }, { job: swept-up } ]\n"
                + "finally: [ { step: last, job: swept-up } ]\n");
        service.define("chain: windowed-chain\nteam: revenue\nstop-at: \"05:30\"\n"
                + "steps: [ { step: ask, approval: { by: { team: revenue } } } ]\n");
        CLOCK.moveTo(Instant.parse("2026-11-24T05:20:00Z"));
        Run limited = start("short");
        assertThat(service.ended(limited).message()).isEqualTo("stopped at its time limit");
        assertThat(service.found(limited.number()).state()).isEqualTo(RunState.TIMED_OUT);
        assertThat(service.children(limited).stream().map(run -> run.step() + " " + run.state()))
                .containsExactlyInAnyOrder("unending CANCELLED", "last SUCCEEDED");
        CLOCK.moveTo(Instant.parse("2026-11-24T05:29:59Z"));
        Run asking = start("windowed-chain");
        Run sweep = service.startOver("unending", "berths");
        Await.until(
                "a row goes",
                () -> running(sweep) == 1 && service.found(asking.number()).state() == RunState.RUNNING);
        // by the clock, also where that jumps
        CLOCK.moveTo(Instant.parse("2026-11-24T05:30:00Z"));
        assertThat(service.ended(asking).message()).isEqualTo("stopped at the end of its window");
        assertThat(service.ended(sweep).message())
                .isEqualTo("stopped at the end of its window after 0 rows, 1 not reached");
        assertThat(service.found(sweep.number()).state()).isEqualTo(RunState.TIMED_OUT);
    }

    @Test
    @DisplayName("the rows of one sweep count as one run; told apart by a value, each counts by itself")
    void sweepsOverlap() throws IOException {
        service.define(
                "roster: words\nteam: revenue\ncolumns: [ x ]\nat-once: 3\nrows: [ { x: a }, { x: b }, { x: c } ]\n");
        waiting("together", "");
        Run sweep = service.startOver("together", "words");
        Await.until("all rows go", () -> running(sweep) == 3);
        Run single = start("together");
        waitsFor(single, "run " + sweep.number() + " of together to end");
        for (String value : List.of("a", "b", "c")) {
            letGo("together", value);
        }
        assertThat(service.ended(single).state()).isEqualTo(RunState.SUCCEEDED);
        waiting("each", "apart-by: [ x ]\n");
        Run first = service.startOver("each", "words");
        Await.until("all rows go", () -> running(first) == 3);
        Run second = service.startOver("each", "words");
        Await.until("the second goes on", () -> service.found(second.number()).state() == RunState.RUNNING);
        letGo("each", "b");
        // the second one's row b has ended before any other of its rows may begin
        Await.until("row b is through twice", () -> service.children(second).stream()
                .anyMatch(row ->
                        row.parameters().get("x").equals("b") && row.state().isEnded()));
        assertThat(running(second)).isZero();
        letGo("each", "a");
        letGo("each", "c");
        assertThat(service.ended(second).state()).isEqualTo(RunState.SUCCEEDED);
        assertThat(service.children(second)).hasSize(3);
    }

    private static long running(Run sweep) {
        return service.children(sweep).stream()
                .filter(row -> row.state() == RunState.RUNNING)
                .count();
    }

    @Test
    @DisplayName("a run whose deadline comes before its end is late, and so is one that ends after it; it is told once")
    void isLate() throws IOException {
        CLOCK.moveTo(Instant.parse("2026-11-25T01:59:59Z"));
        waiting("nightly", "schedules: [ { name: n, when: every day at 02:00, zone: UTC, deadline: 1 h } ]\n");
        CLOCK.moveTo(Instant.parse("2026-11-25T02:00:01Z"));
        service.bean(Waker.class).wake();
        Await.until("it runs", () -> !service.bean(Runs.class).withDeadline().isEmpty());
        Run run = service.bean(Runs.class).withDeadline().get(0);
        assertThat(run.deadline()).contains(Instant.parse("2026-11-25T03:00:00Z"));
        CLOCK.moveTo(Instant.parse("2026-11-25T03:00:01Z"));
        service.bean(Watchman.class).round();
        service.bean(Watchman.class).round();
        assertThat(service.found(run.number()).late()).isTrue();
        Await.until("it was told", () -> late(run) == 1);
        letGo("nightly", "a");
        assertThat(service.ended(run).late()).isTrue();
        assertThat(late(run)).isEqualTo(1);
    }

    private static long late(Run run) {
        return service.bean(Journal.class).after(0, 100_000).stream()
                .filter(event -> event.type().equals("gantrel.run.late") && event.run() == run.number())
                .count();
    }

    @Test
    @DisplayName("a hold that says so stops what is under way, and what comes due in it is started afterwards")
    void holdsStop() throws IOException {
        waiting("stopped", "stop-patience: 2 s\n");
        Run first = start("stopped");
        service.underway(first);
        Hold plain = hold("stopped", false);
        Holds holds = service.bean(Holds.class);
        Hold stopping = holds.lay(
                LiveService.SERVICE,
                Hold.wanted(
                                plain.scope(),
                                plain.name(),
                                CLOCK.instant(),
                                Optional.of(CLOCK.instant().plusSeconds(3_600)),
                                "new pumps",
                                "gantrel")
                        .stopping());
        assertThat(service.ended(first).message()).isEqualTo("cancelled by gantrel, by a hold of the job stopped");
        Run second = start("stopped");
        waitsFor(second, "the end of a hold");
        assertThat(stopping.until()).isPresent();
        letGo("stopped", "a");
        move(Duration.ofHours(1));
        assertThat(service.ended(second).state()).isEqualTo(RunState.SUCCEEDED);
    }

    @Test
    @DisplayName("what does not stop when it is asked to is ended by force, and its run says so once")
    void endsByForce() {
        service.task(
                "deaf",
                "trap '' TERM; touch " + folder + "/deaf; while :; do sleep 0.05; done",
                "stop-patience: 1 s\n");
        Run run = start("deaf");
        Await.until("it hears nothing", () -> Files.exists(folder.resolve("deaf")));
        service.bean(Wishes.class).stop(run.number(), "mara", CLOCK.instant());
        service.bean(Waker.class).wake();
        assertThat(service.ended(run).message()).isEqualTo("cancelled by mara");
        assertThat(lines(run, "force")).containsExactly("did not stop within 1.0 s; ended by force");
    }

    /** The lines of a run's timeline with a word. */
    private static List<String> lines(Run run, String word) {
        try (EntityManager entities = service.bean(EntityManagerFactory.class).createEntityManager()) {
            return entities
                    .createQuery("select what from RunMoment where runNumber = :run", String.class)
                    .setParameter("run", run.number())
                    .getResultList()
                    .stream()
                    .filter(what -> what.contains(word))
                    .toList();
        }
    }
}
