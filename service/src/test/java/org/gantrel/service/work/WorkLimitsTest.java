package org.gantrel.service.work;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.RandomAccessFile;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.jar.JarEntry;
import java.util.jar.JarOutputStream;
import javax.tools.ToolProvider;
import org.gantrel.core.run.RunState;
import org.gantrel.service.Await;
import org.gantrel.service.credential.Credentials;
import org.gantrel.service.imports.Imports;
import org.gantrel.service.imports.Imports.DefinitionFile;
import org.gantrel.service.imports.Imports.ImportBody;
import org.gantrel.service.retention.Retentions;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.Runs;
import org.gantrel.service.run.Starts;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

@DisplayName("The work of a task, at its limits,")
class WorkLimitsTest extends WorkingService {

    @Test
    @DisplayName("that takes too long is stopped at its time limit, and one that is cancelled ends too")
    void isStopped() {
        kiosk.createContext("/slow", exchange -> {
            if (exchange.getRequestURI().getPath().endsWith("/body")) {
                exchange.sendResponseHeaders(200, 100);
                exchange.getResponseBody().write('a');
                exchange.getResponseBody().flush();
            }
            try {
                Thread.sleep(20_000);
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
            }
            exchange.close();
        });
        Run late = run("time-limit: PT1S\ndoes: { request: \"" + address() + "/slow\" }\n");
        assertThat(late.state()).isEqualTo(RunState.TIMED_OUT);
        assertThat(late.message()).isEqualTo("stopped at its time limit of 1.0 s");
        Run patient = run("does: { request: \"" + address() + "/slow\", patience: PT1S }\n");
        assertThat(patient.message()).endsWith("did not answer within 1 s");
        String body = "does: { request: \"" + address() + "/slow/body\", patience: ";
        assertThat(run(body + "PT1S }\n").message()).endsWith("did not end its answer within 1 s");
        assertThat(run("time-limit: PT1S\n" + body + "PT1H }\n").state()).isEqualTo(RunState.TIMED_OUT);
    }

    /** Carries what is said between a driver and a database, until the driver says a word: then all is silence. */
    private static void relay(ServerSocket server, String word) throws IOException {
        while (true) {
            Socket driver = server.accept();
            var database = new Socket("127.0.0.1", databases.getPort());
            var silence = new AtomicBoolean();
            for (Socket from : List.of(driver, database)) {
                Socket to = from == driver ? database : driver;
                CompletableFuture.runAsync(
                        () -> {
                            byte[] piece = new byte[8_192];
                            try {
                                for (int read; (read = from.getInputStream().read(piece)) >= 0; ) {
                                    // H2's protocol has two bytes for each letter
                                    String said = new String(piece, 0, read, StandardCharsets.ISO_8859_1);
                                    silence.compareAndSet(
                                            false, said.replace("\0", "").contains(word));
                                    if (!silence.get()) {
                                        to.getOutputStream().write(piece, 0, read);
                                    }
                                }
                            } catch (IOException e) {
                                silence.set(true);
                            }
                        },
                        work -> new Thread(work).start());
            }
        }
    }

    @ParameterizedTest(name = "{0}")
    @CsvSource({"a database that says nothing any more, sql", "a mail server that says nothing, mail"})
    @DisplayName("that waits for what says nothing is left when its time is over, and nobody else waits for that")
    void isLeft(String what, String kind) throws Exception {
        try (var server = new ServerSocket(0, 50, InetAddress.getLoopbackAddress())) {
            String port = String.valueOf(server.getLocalPort());
            String limits = "time-limit: PT1S\nstop-patience: PT1S\nacts-as: silent-" + kind + "\ndoes: ";
            String does;
            if (kind.equals("sql")) {
                Thread carrier = new Thread(() -> {
                    try {
                        relay(server, "silence");
                    } catch (IOException e) {
                        // the test is over
                        return;
                    }
                });
                carrier.start();
                String url = onServer("tickets").replaceFirst(":\\d+/", ":" + port + "/");
                keep("silent-sql", "database", Map.of("url", url, "user", "settle"), Map.of("password", SECRET));
                does = "{ sql: \"select 'silence'\" }\n";
            } else {
                Map<String, String> facts = Map.of("host", "127.0.0.1", "port", port, "from", "gantrel@example.org");
                keep("silent-mail", "mail", facts, Map.of("password", SECRET));
                does = "{ mail: a, to: [ crew@example.org ], text: b }\n";
            }
            Run silent =
                    service.getBean(Starts.class).start(SERVICE, define(limits + does), Map.of(), Optional.empty());
            assertThat(run("acts-as: tickets\ndoes: { sql: select 1 }\n").state())
                    .isEqualTo(RunState.SUCCEEDED);
            Run ended = ended(silent);
            assertThat(ended.state()).as(ended.message()).isEqualTo(RunState.TIMED_OUT);
            Duration took = Duration.between(
                    ended.startedAt().orElseThrow(), ended.finishedAt().orElseThrow());
            // an answer of either would be waited for much longer
            assertThat(took).isLessThan(Duration.ofSeconds(15));
        }
    }

    @ParameterizedTest(name = "{0}: {1}")
    @CsvSource(
            delimiter = '|',
            value = {
                "jdbc:strange:x                        | there is no driver for jdbc:strange:...",
                "jdbc:postgresql://127.0.0.1:1/x       | the database said:"
            })
    void refusesDatabases(String url, String message) {
        String name = "db-" + ++jobs;
        keep(name, "database", Map.of("url", url, "user", "a"), Map.of("password", "x"));
        assertThat(run("acts-as: " + name + "\ndoes: { sql: select 1 }\n").message())
                .contains(message);
    }

    @Test
    @DisplayName("opens no database within the service, its own or another, and says so where the credential is kept")
    void keepsToServers() {
        keep(
                "own",
                "database",
                Map.of("url", "jdbc:h2:file:" + folder.resolve("data/gantrel"), "user", "gantrel"),
                Map.of("password", "x"));
        assertThat(service.getBean(Credentials.class).warning("own").orElseThrow())
                .contains("this address is not allowed");
        assertThat(run("acts-as: own\ndoes: { sql: select 1 }\n").message()).contains("this address is not allowed");
    }

    @Test
    @DisplayName("finds the driver of a database in the folder for drivers, also one that was put there later")
    void findsDrivers() throws Exception {
        keep("gauges", "database", Map.of("url", "jdbc:tide:gauges"), Map.of("password", "x"));
        String gauges = "acts-as: gauges\ndoes: { sql: select 7 as level, to-file: level.csv }\n";
        assertThat(run(gauges).message()).contains("there is no driver for jdbc:tide:...; put its jar into");
        Path classes = Files.createDirectories(folder.resolve("classes"));
        Path source = Files.writeString(
                folder.resolve("TideDriver.java"),
                """
                public class TideDriver extends org.h2.Driver {
                    public boolean acceptsURL(String url) { return url.startsWith("jdbc:tide:"); }
                    public java.sql.Connection connect(String url, java.util.Properties how) throws java.sql.SQLException {
                        return acceptsURL(url) ? super.connect("jdbc:h2:mem:tide", how) : null;
                    }
                }
                """);
        String path = System.getProperty("java.class.path");
        assertThat(ToolProvider.getSystemJavaCompiler()
                        .run(null, null, null, "-cp", path, "-d", classes.toString(), source.toString()))
                .isZero();
        Path drivers = Files.createDirectories(folder.resolve("data/drivers"));
        try (var jar = new JarOutputStream(Files.newOutputStream(drivers.resolve("tide.jar")))) {
            jar.putNextEntry(new JarEntry("META-INF/services/java.sql.Driver"));
            jar.write("TideDriver".getBytes(StandardCharsets.UTF_8));
            jar.putNextEntry(new JarEntry("TideDriver.class"));
            jar.write(Files.readAllBytes(classes.resolve("TideDriver.class")));
        }
        assertThat(run(gauges).message()).startsWith("1 row in level.csv");
    }

    @Test
    @DisplayName("is looked at when it is saved: what it reaches, with what is known then, for a bounded time")
    void isLookedAtWhenItIsSaved() throws Exception {
        keep(
                "gone",
                "database",
                Map.of("url", "jdbc:postgresql://127.0.0.1:1/x", "user", "a"),
                Map.of("password", "x"));
        String said = "acts-as: gone\ndoes: { sql: select 1 }\n";
        assertThat(ahead(said)).singleElement().asString().startsWith("database: Connection to 127.0.0.1:1 refused");
        assertThat(ahead("parameters: { route: { type: text } }\nacts-as: gone\ndoes: { sql: \"select ${route}\" }\n"))
                .as("a value comes with the start only")
                .singleElement()
                .asString()
                .startsWith("sign-in: ");
        assertThat(ahead("parameters: { no: { type: number } }\n"
                        + "schedules: [ { name: n, when: every day at 02:30, zone: UTC, with: { no: 1 } } ]\n"
                        + "acts-as: tickets\ndoes: { sql: \"selct ${no} from sale\" }\n"))
                .as("with the values of the schedule the database is asked for all")
                .singleElement()
                .asString()
                .startsWith("statement: selct ? from sale: ")
                .contains("Syntax error");
        assertThat(ahead("does: { request: \"" + address() + "/open\" }\n")).isEmpty();
        assertThat(ahead("acts-as: kiosk\ndoes: { sql: select 1 }\n"))
                .containsExactly("a sql cannot act as 'kiosk', which is of the kind http-bearer");
        assertThat(ahead("does: { shell: 'exit 1', in: /no/such/folder }\n"))
                .as("once, not by the look as well")
                .containsExactly("there is no folder /no/such/folder");
        try (var silent = new ServerSocket(0, 5, InetAddress.getLoopbackAddress())) {
            String url = "jdbc:postgresql://127.0.0.1:" + silent.getLocalPort() + "/x";
            keep("silent", "database", Map.of("url", url, "user", "a"), Map.of("password", "x"));
            assertThat(ahead("acts-as: silent\ndoes: { sql: select 1 }\n"))
                    .singleElement()
                    .asString()
                    .contains("did not answer within 2 seconds");
        }
    }

    /** The warnings of a dry run. */
    private static List<String> ahead(String rest) {
        String text = "task: ahead\nteam: revenue\n" + rest;
        return service.getBean(Imports.class)
                .bringIn(SERVICE, true, new ImportBody(List.of(new DefinitionFile("t", text))))
                .get(0)
                .warnings();
    }

    @Test
    @DisplayName("sends no file, and no files together, that are too large for a mail")
    void sendsNothingTooLarge() throws Exception {
        var attached = new ArrayList<String>();
        for (int i = 0; i < 5; i++) {
            attached.add(large("week-" + i, 24_000_000));
        }
        String mail = "acts-as: post\ndoes: { mail: x, to: [ a@example.org ], text: x, attach: [ ";
        assertThat(run(mail + String.join(", ", attached) + " ] }\n").message())
                .endsWith("its files are too large to be sent in one mail: at most 100 MB together");
        String larger = large("year", 25_000_001);
        assertThat(run(mail + larger + " ] }\n").message())
                .endsWith(larger + " is too large to be sent: at most 25 MB");
        assertThat(run(mail + attached.get(0) + " ] }\n").message()).endsWith("sent to a@example.org");
    }

    private static String large(String name, long bytes) throws IOException {
        Path file = folder.resolve(name);
        try (var sparse = new RandomAccessFile(file.toFile(), "rw")) {
            sparse.setLength(bytes);
        }
        return file.toString();
    }

    @Test
    @DisplayName("of a chain's step may send what an earlier step left")
    void sendsWhatAnEarlierStepLeft() throws Exception {
        String sheet = define("acts-as: tickets\ndoes: { sql: select route from sale, to-file: s.csv }\n");
        String post = define(
                "acts-as: post\ndoes: { mail: The sheet, to: [ a@example.org ], text: x, attach: [ \"one: s.csv\" ] }\n");
        String lost = define(
                "acts-as: post\ndoes: { mail: The sheet, to: [ a@example.org ], text: x, attach: [ \"one: t.csv\" ] }\n");
        String chain = "chain: mailing\nteam: revenue\nsteps: [ { step: one, job: " + sheet + " }, { step: two, job: "
                + post + " }, { step: three, job: " + lost + " } ]\n";
        service.getBean(Imports.class).bringIn(SERVICE, false, new ImportBody(List.of(new DefinitionFile("c", chain))));
        Run run = service.getBean(Starts.class).start(SERVICE, "mailing", Map.of(), Optional.empty());
        ended(run);
        List<Run> steps = service.getBean(Runs.class).children(run.number());
        assertThat(steps)
                .extracting(Run::state)
                .containsExactly(RunState.SUCCEEDED, RunState.SUCCEEDED, RunState.FAILED);
        assertThat(steps.get(2).message()).isEqualTo("the step one left no output t.csv");
        assertThat(subjects()).contains("The sheet");
    }

    @Test
    @DisplayName("gives one value of a query to those who look, and shows its first rows in the log")
    void givesValues() throws IOException {
        Run one = run("acts-as: tickets\ndoes: { sql: \"select count(*) as sales from sale\" }\n");
        assertThat(one.results()).containsEntry("sales", "3");
        Run many = run("acts-as: tickets\ndoes: { sql: \"select x from system_range(1, 50)\" }\n");
        assertThat(many.message()).isEqualTo("50 rows");
        assertThat(log(many).lines().filter(line -> line.matches("\\d+"))).hasSize(20);
        Run changed = run(
                "acts-as: tickets\ndoes: { sql: [ \"update sale set cents = cents\", \"delete from sale where cents < 0\" ] }\n");
        assertThat(changed.message()).isEqualTo("3 rows changed and 0 rows changed");
    }

    @Test
    @DisplayName("that sends a body does so with its headers and values, and an address that is none is told")
    void sendsABody() throws IOException {
        var heard = new java.util.concurrent.atomic.AtomicReference<String>("");
        kiosk.createContext("/post", exchange -> {
            heard.set(exchange.getRequestMethod() + " "
                    + exchange.getRequestHeaders().getFirst("X-Day") + " "
                    + new String(exchange.getRequestBody().readAllBytes()));
            exchange.sendResponseHeaders(204, -1);
            exchange.close();
        });
        Run run = run(
                "parameters: { day: { type: date } }\ndoes: { request: \"" + address()
                        + "/post\", method: POST, headers: { X-Day: \"${day}\" }, body: 'day is ${day}', expect: 204 }\n",
                Map.of("day", "2026-11-22"));
        assertThat(run.message()).isEqualTo("answered 204");
        assertThat(heard.get()).isEqualTo("POST 2026-11-22 day is 2026-11-22");
        Run odd = run(
                "parameters: { host: { type: text } }\ndoes: { request: \"http://${host}/\" }\n",
                Map.of("host", "a b"));
        assertThat(odd.state()).isEqualTo(RunState.FAILED);
        assertThat(odd.message()).contains("cannot be asked");
    }

    @Test
    @DisplayName("keeps its outputs no longer than the job says")
    void keepsOutputsForATime() throws IOException {
        String name =
                define("does: { shell: \"echo 1 > out.csv\" }\noutputs: [ { file: out.csv } ]\nkeep-outputs: PT1S\n");
        Starts starts = service.getBean(Starts.class);
        Run first = starts.start(SERVICE, name, Map.of(), Optional.empty());
        Path output = kept(first).resolve("outputs/out.csv");
        ended(first);
        assertThat(output).exists();
        Await.until("it is deleted after its time", () -> {
            service.getBean(Retentions.class).thin();
            return Files.notExists(output);
        });
        assertThat(kept(first).resolve("log")).exists();
    }

    @Test
    @DisplayName("that is checks may act as somebody for each, and one without a database says so")
    void checksActAsSomebody() throws IOException {
        Run run = run(
                """
                does:
                  checks:
                    - { name: knows us, request: "%1$s/state", acts-as: kiosk, contains: skarholm }
                    - { name: does not, request: "%1$s/state" }
                    - { name: whose, sql: select 1 }
                    - { name: nothing, sql: "select 1 where 1 = 0", acts-as: tickets }
                    - { name: old, file: %2$s, newer-than: P1D }
                    - { name: small, file: %2$s, larger-than: 1kB }
                """
                        .formatted(address(), old()));
        assertThat(log(run))
                .contains(
                        "passed  knows us",
                        "FAILED  does not: answered 401, expected 200-299",
                        "FAILED  whose: a query needs acts-as",
                        "FAILED  nothing: the query gave no row",
                        "FAILED  old: it was written",
                        "FAILED  small: it has 1 bytes, expected more than 1000")
                .doesNotContain(SECRET);
    }

    private static Path old() throws IOException {
        Path file = Files.writeString(folder.resolve("old.csv"), "x");
        return Files.setLastModifiedTime(file, FileTime.from(Instant.now().minus(Duration.ofDays(3))));
    }

    @Test
    @DisplayName("may move and copy files with their folders, and touches none while nothing matches")
    void movesFiles() throws IOException {
        Path root = Files.createDirectories(folder.resolve("moving/deep"));
        Files.writeString(root.resolve("a.csv"), "1");
        Files.writeString(root.resolve("b.txt"), "2");
        Path target = folder.resolve("moved");
        String under = "under: " + root.getParent() + ", to: " + target;
        assertThat(run("does: { files: copy, " + under + ", matching: \"**/*.csv\" }\n")
                        .message())
                .isEqualTo("1 file copied, 1 byte");
        assertThat(target.resolve("deep/a.csv")).hasContent("1");
        assertThat(run("does: { files: move, " + under + ", matching: \"*.txt\", smaller-than: 10B }\n")
                        .message())
                .isEqualTo("1 file moved, 1 byte");
        assertThat(root.resolve("b.txt")).doesNotExist();
        assertThat(run("does: { files: move, " + under + ", matching: \"*.pdf\" }\n")
                        .message())
                .isEqualTo("0 files moved, 0 bytes");
        assertThat(run("does: { files: list, under: /no/such }\n").message()).isEqualTo("there is no folder /no/such");
    }
}
