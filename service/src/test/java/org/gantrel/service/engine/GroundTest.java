package org.gantrel.service.engine;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.Callable;
import java.util.concurrent.Executors;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import javax.sql.DataSource;
import org.gantrel.core.credential.CredentialKind;
import org.gantrel.core.run.Ending;
import org.gantrel.core.run.RunState;
import org.gantrel.service.Await;
import org.gantrel.service.LiveService;
import org.gantrel.service.aside.SetAside;
import org.gantrel.service.cache.CommittedCache;
import org.gantrel.service.credential.Credentials;
import org.gantrel.service.http.Invalid;
import org.gantrel.service.journal.Event;
import org.gantrel.service.journal.Journal;
import org.gantrel.service.run.Finish;
import org.gantrel.service.run.Ledger;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.RunLogs;
import org.gantrel.service.run.Runs;
import org.gantrel.service.run.Starts;
import org.gantrel.service.run.Wishes;
import org.gantrel.service.team.Team;
import org.gantrel.service.team.Teams;
import org.h2.api.Trigger;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.springframework.transaction.support.TransactionTemplate;

@DisplayName("The engine")
class GroundTest {

    /** Phrases go no finer than minutes, and nobody wants to wait for one. */
    private static final String OFTEN =
            "schedules: [ { name: often, when: \"DTSTART:20260101T000000" + " RRULE:FREQ=MINUTELY;BYSECOND="
                    + IntStream.range(0, 30).mapToObj(i -> "" + 2 * i).collect(Collectors.joining(","))
                    + "\", zone: UTC%s } ]\n";

    @TempDir
    static Path folder;

    static LiveService service;

    @BeforeAll
    static void open() {
        service = LiveService.fresh(folder);
        service.task(
                "say", "echo ${word}", "parameters: { word: { type: text, default: hello, pattern: \"[a-z]+\" } }\n");
        service.define(
                """
                chain: two
                team: revenue
                parameters: { word: { type: text, default: hello } }
                steps:
                  - { step: first, job: say, with: { word: "${word}" } }
                  - { step: second, job: say, with: { word: "${word}" } }
                """);
        service.define("roster: words\nteam: revenue\ncolumns: [ word ]\nat-once: 3\n"
                + "rows: [ { word: one }, { word: two }, { word: three }, { word: four } ]\n");
    }

    @AfterAll
    static void close() {
        service.close();
    }

    @Test
    @DisplayName("runs a chain over a roster: each row is a run of the chain, with all its steps")
    void runsAChainOverARoster() {
        Run sweep = service.ended(service.startOver("two", "words"));
        assertThat(sweep.message()).isEqualTo("4 rows went well");
        List<Run> rows = service.children(sweep);
        assertThat(rows).hasSize(4).allMatch(Run::isChain).allMatch(row -> row.state() == RunState.SUCCEEDED);
        for (Run row : rows) {
            assertThat(service.children(row)).extracting(Run::step).containsExactly("first", "second");
            assertThat(service.children(row)).allMatch(step -> step.state() == RunState.SUCCEEDED);
        }
    }

    @Test
    @DisplayName("goes on at once after a step or a row that cannot be started, and keeps the values that it was given")
    void goesOnAfterARefusedStep() {
        Run chain = service.ended(service.start("two", Map.of("word", "NO")));
        assertThat(chain.state()).isEqualTo(RunState.FAILED);
        assertThat(chain.took().orElseThrow().toMillis()).isLessThan(3_000);
        assertThat(service.children(chain).get(0).message()).startsWith("not started: ");
        service.define("roster: odd\nteam: revenue\ncolumns: [ word ]\nrows: [ { word: fine }, { word: NOT } ]\n");
        Run sweep = service.ended(service.startOver("say", "odd"));
        assertThat(sweep.message()).isEqualTo("1 of 2 rows failed: row 2 (NOT)");
        assertThat(service.children(sweep))
                .filteredOn(row -> row.state() == RunState.FAILED)
                .singleElement()
                .satisfies(row -> assertThat(row.parameters()).containsEntry("word", "NOT"));
    }

    @Test
    @DisplayName("takes patterns and lines of any kind in its stride: none needs a deep stack, none can take for ever")
    void takesAnyPattern() {
        service.task(
                "deep",
                "head -c 9900 /dev/zero | tr \"\\0\" a; echo",
                "outcome: { failed-by: [ \"(a|b)*c\", \"(a+)+$x\" ] }\n");
        Run run = service.ended(service.start("deep"));
        assertThat(run.state()).isEqualTo(RunState.SUCCEEDED);
        assertThat(service.ended(service.start("say")).state()).isEqualTo(RunState.SUCCEEDED);
    }

    @ParameterizedTest
    @ValueSource(strings = {"out/{a", "x[1"})
    @DisplayName("is given no output whose path is none: that is said at import")
    void refusesBadGlobs(String path) {
        assertThatThrownBy(() -> service.task("globs", "true", "outputs: [ { file: \"" + path + "\" } ]\n"))
                .isInstanceOf(Invalid.class)
                .hasMessageContaining("'" + path + "' is no path or glob");
    }

    @Test
    @DisplayName("ends a run whose results are too large to keep, with a warning that says so, and once")
    void endsWithLargeResults() {
        service.task("brief", "sleep 1", "");
        Run run = service.underway(service.start("brief"));
        var finish = new Finish(
                new Ending(RunState.SUCCEEDED, "all is well"),
                Optional.of(0),
                List.of(),
                Map.of("big", "x".repeat(200_000)));
        service.bean(TransactionTemplate.class)
                .executeWithoutResult(status -> service.bean(Ledger.class).finish(run.number(), finish, Instant.now()));
        Run ended = service.found(run.number());
        assertThat(ended.state()).isEqualTo(RunState.WARNED);
        assertThat(ended.message()).startsWith("all is well; its results are not kept: they have 200010 characters");
        assertThat(ended.results()).isEmpty();
        assertThat(service.ended(service.start("say")).state()).isEqualTo(RunState.SUCCEEDED);
    }

    @Test
    @DisplayName("begins a run whose identity has a long name")
    void takesLongIdentities() {
        String host = IntStream.range(0, 12).mapToObj(i -> "harbour-" + i).collect(Collectors.joining("."));
        var draft = new Credentials.Draft(
                "revenue",
                CredentialKind.of("ssh").orElseThrow(),
                "",
                Map.of("host", host, "user", "night"),
                Map.of("password", "x"),
                null,
                List.of(),
                List.of());
        service.bean(Credentials.class).keep(LiveService.SERVICE, "far", draft);
        service.define("task: far-away\nteam: revenue\nacts-as: far\ndoes: { command: [ ls ] }\n");
        Run run = service.ended(service.start("far-away"));
        assertThat(run.actsAs()).hasSizeGreaterThan(60).startsWith("night@harbour-0");
        assertThat(run.state()).isEqualTo(RunState.FAILED);
    }

    @Test
    @DisplayName("stops a chain with its steps and a sweep with its rows, and remembers it over a restart")
    void stopsParents() throws Exception {
        service.task("long", "sleep 60", "parameters: { word: { type: text, default: x } }\n");
        service.define("chain: lasts\nteam: revenue\nsteps: [ { job: long }, { job: say } ]\n");
        Run chain = service.start("lasts");
        Await.until("its step runs", () -> service.children(chain).stream()
                .anyMatch(step -> Files.exists(service.folder(step).resolve("process"))));
        service.bean(Wishes.class).stop(chain.number(), "mara", Instant.now());
        service.restart();
        assertThat(service.ended(chain).message()).isEqualTo("cancelled by mara");
        assertThat(service.children(chain)).extracting(Run::message).containsExactly("cancelled by the chain");
        Run sweep = service.startOver("long", "words");
        Await.until("rows run", () -> service.children(sweep).size() == 3);
        service.bean(Wishes.class).stop(sweep.number(), "mara", Instant.now());
        assertThat(service.ended(sweep).message()).isEqualTo("cancelled by mara after 0 rows, 1 not reached");
        assertThat(service.children(sweep)).allMatch(row -> row.state() == RunState.CANCELLED);
    }

    @Test
    @DisplayName("keeps in memory what was read in a transaction of its own")
    void keepsWhatIsCommitted() {
        var cache = new CommittedCache<String, Integer>(1);
        TransactionTemplate transaction = service.bean(TransactionTemplate.class);
        transaction.executeWithoutResult(status -> cache.get("one", key -> 1));
        assertThat(cache.get("one", key -> 2)).isEqualTo(1);
    }

    @Test
    @DisplayName("ends each of many runs once, though each is cancelled about when it ends")
    void endsOnceAgainstCancels() {
        service.task("short", "exit 0", "while-running: 30\n");
        List<Run> runs =
                IntStream.range(0, 30).mapToObj(i -> service.start("short")).toList();
        runs.forEach(run -> service.bean(Wishes.class).stop(run.number(), "mara", Instant.now()));
        for (Run run : runs) {
            Run ended = service.ended(run);
            assertThat(ended.state()).isIn(RunState.SUCCEEDED, RunState.CANCELLED);
            assertThat(ended.state() == RunState.CANCELLED)
                    .isEqualTo(ended.message().startsWith("cancelled"));
        }
        // the journal is shown up to the first transaction that is still open, so that the latest may come a moment
        // later
        Await.until("all ends are in the journal", () -> ends(runs).size() >= runs.size());
        assertThat(ends(runs))
                .containsExactlyInAnyOrderElementsOf(
                        runs.stream().map(Run::number).toList());
    }

    private List<Long> ends(List<Run> runs) {
        Set<Long> numbers = runs.stream().map(Run::number).collect(Collectors.toSet());
        return service.bean(Journal.class).after(0, 100_000).stream()
                .filter(event -> event.type().equals("gantrel.run.ended") && numbers.contains(event.run()))
                .map(Event::run)
                .toList();
    }

    @Test
    @DisplayName("ends a chain whose step is cancelled while it waits for a place")
    void goesOnAfterACancelledStep() {
        service.task("fills", "sleep 60", "while-running: 4\n");
        List<Run> filling =
                IntStream.range(0, 4).mapToObj(i -> service.start("fills")).toList();
        filling.forEach(service::underway);
        Run chain = service.start("two");
        Await.until("its step waits", () -> service.children(chain).stream()
                .anyMatch(step -> step.waitingFor().startsWith("a free place: 4 of 4")));
        Run step = service.children(chain).get(0);
        service.bean(Wishes.class).stop(step.number(), "mara", Instant.now());
        assertThat(service.ended(chain).message()).isEqualTo("step first was cancelled");
        assertThat(service.found(step.number()).message()).isEqualTo("cancelled by mara before it started");
        filling.forEach(run -> service.bean(Wishes.class).stop(run.number(), "mara", Instant.now()));
        filling.forEach(service::ended);
    }

    @Test
    @DisplayName("moves nothing any more when another service has taken over, and says so")
    void movesNothingWithoutTheLease() throws Exception {
        execute("update lease set epoch = epoch + 1");
        Run run = service.start("say");
        EnginePulse pulse = service.bean(EnginePulse.class);
        Await.until("it is said", () -> service.bean(SetAside.class).all().stream()
                .anyMatch(entry -> entry.reason().startsWith("another service has taken over")));
        assertThat(service.found(run.number()).state()).isEqualTo(RunState.WAITING);
        assertThat(pulse.isAlive()).isTrue();
        service.restart();
        assertThat(service.ended(run).state()).isEqualTo(RunState.SUCCEEDED);
    }

    @Test
    @DisplayName("has mails written once: one for a sweep however many of its rows fail, over a restart too")
    void tellsOfASweepOnce() throws Exception {
        service.task(
                "fails",
                "exit 1",
                "parameters: { word: { type: text } }\nnotify: { failed: [ night@example.org, day@example.org ] }\n");
        Run sweep = service.ended(service.startOver("fails", "words"));
        Await.until("they are in the outbox", () -> mails().size() == 2);
        service.restart();
        // more of the same fault tells nobody; another one does
        service.ended(service.start("fails", Map.of("word", "one")));
        service.task("fails-too", "exit 1", "notify: { failed: [ night@example.org, day@example.org ] }\n");
        Run single = service.ended(service.start("fails-too"));
        Await.until("the next ones are", () -> mails().size() >= 4);
        assertThat(mails()).containsExactly(sweep.number(), sweep.number(), single.number(), single.number());
    }

    private static List<Long> mails() {
        var runs = new ArrayList<Long>();
        try (var connection = service.bean(DataSource.class).getConnection();
                var rows = connection.createStatement().executeQuery("select run_number from delivery order by id")) {
            while (rows.next()) {
                runs.add(rows.getLong(1));
            }
        } catch (SQLException e) {
            throw new AssertionError(e);
        }
        return runs;
    }

    @Test
    @DisplayName("starts once where the same key is used by many at the same moment")
    void startsOnceUnderOneKey() throws Exception {
        var pool = Executors.newFixedThreadPool(8);
        List<Callable<Long>> calls = new ArrayList<>();
        for (int i = 0; i < 8; i++) {
            calls.add(() -> service.bean(Starts.class)
                    .start(LiveService.SERVICE, "say", Map.of(), Optional.of("the-same"))
                    .number());
        }
        var numbers = Set.copyOf(pool.invokeAll(calls).stream()
                .map(future -> {
                    try {
                        return future.get();
                    } catch (Exception e) {
                        throw new AssertionError(e);
                    }
                })
                .toList());
        pool.shutdown();
        assertThat(numbers).hasSize(1);
    }

    @Test
    @DisplayName("has not ended a run while something that it started is alive, unless the job lets it go")
    void endsWhatIsLeftBehind() throws Exception {
        Path pid = folder.resolve("pid");
        service.task("leaves", "sleep 300 & echo $! > " + pid, "");
        assertThat(service.ended(service.start("leaves")).state()).isEqualTo(RunState.SUCCEEDED);
        assertThat(isAlive(pid)).isFalse();
        // to cover the secret the output goes through a pipe, which the sleeper holds open
        service.task("leaves-covered", "sleep 300 & echo $! > " + pid, "parameters: { key: { type: secret } }\n");
        service.ended(service.start("leaves-covered", Map.of("key", "hush")));
        assertThat(isAlive(pid)).isFalse();
        service.task("lets-go", "sleep 300 > /dev/null 2>&1 & echo $! > " + pid, "leftovers: let-go\n");
        service.ended(service.start("lets-go"));
        assertThat(isAlive(pid)).isTrue();
        ProcessHandle.of(Long.parseLong(Files.readString(pid).strip())).ifPresent(ProcessHandle::destroy);
    }

    private static boolean isAlive(Path pid) throws Exception {
        Path stat = Path.of("/proc", Files.readString(pid).strip(), "stat");
        // one that has ended may stand there for a while until somebody takes notice (state Z, proc(5))
        return Files.exists(stat) && !Files.readString(stat).contains(") Z ");
    }

    @Test
    @DisplayName("packs a long log when its run has ended, and it reads as before")
    void packsLogs() {
        service.task("talks", "seq 1 30000", "");
        Run run = service.ended(service.start("talks"));
        Await.until(
                "it is packed",
                () -> Files.exists(service.folder(run).resolve("log.index"))
                        && Files.notExists(service.folder(run).resolve("log")));
        RunLogs logs = service.bean(RunLogs.class);
        String expected =
                IntStream.rangeClosed(1, 30_000).mapToObj(i -> i + "\n").collect(Collectors.joining());
        assertThat(logs.size(run.number())).isEqualTo(expected.length());
        var text = new StringBuilder();
        RunLogs.Piece piece = logs.read(run, 1, 0, 10_000);
        while (piece.to() > piece.from()) {
            text.append(piece.text());
            piece = logs.read(run, 1, piece.to(), 10_000);
        }
        assertThat(text.toString()).isEqualTo(expected);
        assertThat(logs.lastLines(run, 2)).containsExactly("29999", "30000");
    }

    @Test
    @DisplayName(
            "sets a schedule aside that cannot be accounted for; the others go on, and it goes on when it is mended")
    void setsASideWhatFails() {
        service.task("broken", "true", OFTEN.formatted(""));
        service.task("whole", "true", OFTEN.formatted(""));
        execute("create trigger no_broken before insert on occurrence for each row call '" + ShutBooks.class.getName()
                + "'");
        try {
            SetAside aside = service.bean(SetAside.class);
            Await.until("it is set aside", () -> !aside.all().isEmpty());
            SetAside.Entry entry = aside.all().get(0);
            assertThat(entry.thing().name()).isEqualTo("broken / often");
            assertThat(entry.thing().team()).isEqualTo("revenue");
            assertThat(entry.reason()).contains("the books are shut");
            long before = runs("whole").size();
            Await.until("the other goes on", () -> runs("whole").size() > before);
            execute("drop trigger no_broken");
            aside.tryAgain(SetAside.Kind.SCHEDULE, entry.thing().id());
            Await.until("it goes on", () -> !runs("broken").isEmpty());
            Await.until("nothing is set aside", () -> aside.all().isEmpty());
        } finally {
            execute("drop trigger if exists no_broken");
            service.task("broken", "true", "");
            service.task("whole", "true", "");
        }
    }

    @Test
    @DisplayName("forgets what it could not do for a run when that is cancelled, and sleeps")
    void forgetsWhatIsCancelled() {
        service.define("lane: dry\nteam: revenue\nwidth: 1\n");
        service.task("docked", "sleep 60", "lanes: [ dry ]\nwhile-running: 2\n");
        Run first = service.underway(service.start("docked"));
        Run second = service.start("docked");
        service.waits(second, "a place in lane dry");
        SetAside aside = service.bean(SetAside.class);
        IntStream.range(0, 3)
                .forEach(i -> aside.failed(
                        new SetAside.Thing(SetAside.Kind.WAITING_RUN, second.number(), "docked", "revenue"),
                        new IllegalStateException("the books are shut")));
        assertThat(aside.all()).isNotEmpty();
        for (Run each : List.of(second, first)) {
            service.bean(Wishes.class).stop(each.number(), "mara", Instant.now());
            service.ended(each);
        }
        Await.until("nothing is set aside", () -> aside.all().isEmpty());
    }

    @Test
    @DisplayName("says of each start over a roster that is gone that it is gone, and starts the rest")
    void goesOnAfterARetiredRoster() {
        service.define("roster: gone\nteam: revenue\ncolumns: [ word ]\nrows: [ { word: one } ]\n");
        service.task("over-gone", "true", "parameters: { word: { type: text } }\n" + OFTEN.formatted(", over: gone"));
        execute("update roster set retired = true where name = 'gone'");
        Await.until("it is said", () -> runs("over-gone").stream()
                .anyMatch(run -> run.message().contains("there is no roster 'gone'")));
        assertThat(runs("over-gone")).noneMatch(run -> run.state() == RunState.WAITING);
        assertThat(service.ended(service.start("say")).state()).isEqualTo(RunState.SUCCEEDED);
        service.task("over-gone", "true", "");
    }

    private static List<Run> runs(String job) {
        List<Long> teams =
                service.bean(Teams.class).all().stream().map(Team::id).toList();
        return service
                .bean(Runs.class)
                .planned(teams, Instant.EPOCH, Instant.now().plusSeconds(60), 5_000)
                .stream()
                .filter(run -> run.jobName().equals(job))
                .toList();
    }

    private static void execute(String sql) {
        try (var connection = service.bean(DataSource.class).getConnection();
                var statement = connection.createStatement()) {
            statement.execute(sql);
        } catch (SQLException e) {
            throw new AssertionError(sql, e);
        }
    }

    /** Refuses each occurrence of the job that is called broken. */
    public static final class ShutBooks implements Trigger {
        @Override
        public void fire(Connection connection, Object[] before, Object[] after) throws SQLException {
            try (var broken = connection
                    .createStatement()
                    .executeQuery("select 1 from schedule s join job j on j.id = s.job_id where j.name = 'broken'"
                            + " and s.id = " + after[1])) {
                if (broken.next()) {
                    throw new SQLException("the books are shut");
                }
            }
        }
    }
}
