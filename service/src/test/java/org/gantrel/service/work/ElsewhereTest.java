package org.gantrel.service.work;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import javax.sql.DataSource;
import org.gantrel.core.credential.Credential;
import org.gantrel.core.credential.CredentialKind;
import org.gantrel.core.run.RunState;
import org.gantrel.demo.HarbourHost;
import org.gantrel.service.Await;
import org.gantrel.service.credential.SignIn;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.remote.RemoteCommands;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.Starts;
import org.gantrel.service.run.Wishes;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.springframework.jdbc.core.JdbcTemplate;

@DisplayName("A command on another host")
class ElsewhereTest extends WorkingService {

    private static final Map<String, String> PASSWORD = Map.of("password", SECRET);

    private static HarbourHost host;
    private static Path home;
    private static String key;

    @BeforeAll
    static void open() throws IOException {
        home = folder.resolve("harbour");
        host = new HarbourHost(0, home, folder.resolve("host-key"), SECRET);
        key = Files.readString(folder.resolve("host-key.pub")).strip();
        keep("harbour-host", "ssh", facts(key), PASSWORD);
    }

    @AfterAll
    static void shut() throws IOException {
        host.close();
    }

    private static Map<String, String> facts(String hostKey) {
        var facts = new HashMap<>(Map.of(
                "host",
                "127.0.0.1",
                "port",
                String.valueOf(host.port()),
                "user",
                HarbourHost.USER,
                "host-key",
                hostKey));
        facts.values().removeIf(String::isEmpty);
        return facts;
    }

    private static boolean logs(Run run, String text) {
        try {
            return log(run).contains(text);
        } catch (IOException e) {
            return false;
        }
    }

    private static Run begin(String rest) {
        return service.getBean(Starts.class)
                .start(SERVICE, define("acts-as: harbour-host\n" + rest), Map.of(), Optional.empty());
    }

    /** A command that says one thing, waits for a file of a name, and says another. */
    private static String waitsFor(String file) {
        return "does: { shell: \"echo one; until [ -e $HOME/" + file + " ]; do sleep 0.1; done; echo two\" }\n";
    }

    @Test
    @DisplayName(
            "gets its arguments as they are, its secrets and its values, and leaves its log, its outputs and nothing else")
    void runsThere() throws IOException {
        Run run = run(
                """
                acts-as: harbour-host
                parameters: { day: { type: text, default: "it's $(date) \\"today\\"\\n`x`" } }
                does:
                  command: [ sh, -c, 'printf "%s|" "$@" $WORD; cat; echo "$TOKEN"; echo sheet >sheet.csv; exit 3', x, "${day}", "" ]
                  environment: { WORD: "a'b" }
                  secrets: { TOKEN: processor }
                  input: values
                outputs: [ { file: "*.csv", name: sheet.csv } ]
                exit-codes: { succeeded: [ 3 ] }
                """);
        assertThat(run.message()).isEqualTo("exit code 3");
        assertThat(run.state()).isEqualTo(RunState.SUCCEEDED);
        assertThat(run.actsAs()).isEqualTo("night@127.0.0.1");
        assertThat(log(run))
                .startsWith("it's $(date) \"today\"\n`x`||a'b|{")
                .contains("••••••")
                .doesNotContain(SECRET);
        assertThat(kept(run).resolve("outputs/sheet.csv")).hasContent("sheet\n");
        assertThat(host.fetched())
                .as("the host is asked for its files, also where a file of the same name is here")
                .anyMatch(each -> each.endsWith("sheet.csv"));
        Await.until(
                "its folder there is gone",
                () -> !Files.exists(home.resolve("state/gantrel"))
                        || runFolders().isEmpty());
    }

    private static List<Path> runFolders() {
        try (Stream<Path> all = Files.walk(home.resolve("state/gantrel"), 2)) {
            return all.filter(each -> each.getFileName().toString().matches("\\d+"))
                    .toList();
        } catch (IOException e) {
            return List.of();
        }
    }

    @Test
    @DisplayName("goes on while the line is cut, and is found again with its log whole")
    void outlivesTheConnection() throws IOException {
        Run run = begin(waitsFor("go-1"));
        Await.until("it has begun", () -> logs(run, "one"));
        int port = host.port();
        host.close();
        Await.until("its absence is noted", () -> timeline(run).contains("it goes on there, and is looked for"));
        Files.createFile(home.resolve("go-1"));
        host = new HarbourHost(port, home, folder.resolve("host-key"), SECRET);
        assertThat(ended(run).state()).isEqualTo(RunState.SUCCEEDED);
        assertThat(log(run)).isEqualTo("one\ntwo\n");
        assertThat(timeline(run)).contains("127.0.0.1 answers again");
        Run second = begin(waitsFor("go-2"));
        Await.until("it has begun", () -> logs(second, "one"));
        host.drop();
        Files.createFile(home.resolve("go-2"));
        assertThat(ended(second).state()).isEqualTo(RunState.SUCCEEDED);
        assertThat(log(second)).isEqualTo("one\ntwo\n");
    }

    private static String timeline(Run run) {
        return String.join(
                "\n",
                new JdbcTemplate(service.getBean(DataSource.class))
                        .queryForList("select what from run_moment where run_number = ?", String.class, run.number()));
    }

    @Test
    @DisplayName("is not spoken to any more once the host shows another key")
    void refusesAnotherKey() throws IOException {
        var other = new HarbourHost(0, folder.resolve("impostor"), folder.resolve("other-key"), SECRET);
        Map<String, String> facts = facts(key);
        facts.put("port", String.valueOf(other.port()));
        keep("impostor", "ssh", facts, PASSWORD);
        Run run = run("acts-as: impostor\ndoes: { command: [ \"true\" ] }\n");
        assertThat(run.state()).isEqualTo(RunState.FAILED);
        assertThat(run.message())
                .startsWith("not started: the key of 127.0.0.1 has changed: it shows ecdsa-sha2-nistp256 ")
                .contains("nothing was sent to it");
        other.close();
        // in the middle of a run, too
        Run cut = begin(waitsFor("go-3"));
        Await.until("it has begun", () -> logs(cut, "one"));
        int port = host.port();
        host.close();
        try (var stranger = new HarbourHost(port, home, folder.resolve("third-key"), SECRET)) {
            assertThat(stranger.port()).isEqualTo(port);
            assertThat(ended(cut).message()).contains("has changed").endsWith("the command may still run there");
        }
        Files.createFile(home.resolve("go-3"));
        host = new HarbourHost(port, home, folder.resolve("host-key"), SECRET);
    }

    @Test
    @DisplayName("is stopped with all that it started")
    void isStopped() {
        Run run = begin("time-limit: PT2S\ndoes: { shell: \"echo one; sleep 600 & echo $!; wait\" }\n");
        assertThat(ended(run).state()).isEqualTo(RunState.TIMED_OUT);
        assertThat(found(run).message()).isEqualTo("stopped at its time limit of 2.0 s");
        Await.until("the child is gone", () -> {
            try {
                long child = Long.parseLong(log(run).lines().skip(1).findFirst().orElseThrow());
                return ProcessHandle.of(child).filter(ProcessHandle::isAlive).isEmpty();
            } catch (IOException e) {
                return false;
            }
        });
    }

    @Test
    @DisplayName("is stopped while it says more than can be brought here")
    void isStoppedWhileItTalks() {
        Run run = begin(
                "time-limit: PT2S\ndoes: { shell: \"for i in $(seq 100); do yes | head -c 3000000; sleep 0.1; done\" }\n");
        assertThat(ended(run).message()).isEqualTo("stopped at its time limit of 2.0 s");
    }

    @Test
    @DisplayName("is stopped while what it left is brought here, which may take any time")
    void isStoppedAfterwards() {
        Run run = begin(
                "does: { shell: \"truncate -s 3G sheet.bin\" }\noutputs: [ { file: sheet.bin, at-most: 4 GB } ]\n");
        Await.until("it is brought", () -> Files.exists(kept(run).resolve("outputs/sheet.bin")));
        service.getBean(Wishes.class).stop(run.number(), "mara.holt", Instant.now());
        assertThat(ended(run).message()).isEqualTo("cancelled by mara.holt");
        assertThat(kept(run).resolve("outputs/sheet.bin")).doesNotExist();
    }

    @ParameterizedTest(name = "{0}: {1}")
    @CsvSource(
            delimiter = '|',
            value = {
                "command: [ ./settle.sh ]           | not started: on 127.0.0.1 there is no program ./settle.sh",
                "command: [ /etc/passwd ]           | not started: on 127.0.0.1 /etc/passwd may not be executed",
                "command: [ no-such ]               | not started: on 127.0.0.1 there is no program 'no-such' in the folders of PATH (",
                "command: [ 'true' ], in: /nowhere  | not started: on 127.0.0.1 there is no folder /nowhere that may be entered",
                "shell: 'echo berth 3 dry; exit 4'  | exit code 4: berth 3 dry",
                "shell: 'kill -KILL -$PPID'         | its process ended without leaving an exit code"
            })
    void saysWhatWentWrong(String does, String message) {
        Run run = ended(begin("does: { " + does + " }\n"));
        assertThat(run.state()).isEqualTo(RunState.FAILED);
        assertThat(run.message()).startsWith(message);
    }

    @Test
    @DisplayName("is tried again where it could not be begun: a host may be away for a moment")
    void isTriedAgain() {
        Run run = ended(begin("does: { command: [ no-such ] }\nretry: { tries: 2, wait: 1 s }\n"));
        assertThat(run.message())
                .startsWith("not started: on 127.0.0.1 there is no program")
                .endsWith("try 2 of 2");
    }

    @Test
    @DisplayName("is not heard any longer where it says more than it was asked for, and works on")
    void isNotHeardForEver() throws Exception {
        var there = new Credential("harbour-host", CredentialKind.SSH, facts(key), PASSWORD);
        RemoteCommands commands = service.getBean(RemoteCommands.class);
        assertThatThrownBy(() -> commands.said(there, "yes\n", 1_000))
                .hasMessageContaining("says more than 1000 bytes where a short answer is read");
        assertThat(commands.said(there, "yes | head -c 1000000 >&2; echo fine\n", 1_000))
                .isEqualTo("fine");
    }

    @ParameterizedTest(name = "{0}={1}: {2}")
    @CsvSource(
            delimiter = '|',
            value = {
                "host-key |        | the key of 127.0.0.1 is not known yet; it shows ecdsa-sha2-nistp256 ",
                "user     | day    | 127.0.0.1 does not let day in: ",
                "port     | 1      | 127.0.0.1 cannot be reached at port 1: Connection refused",
                "host     | [::1]  | '''[::1]'' is no host: '",
                "host     | no.such.example.org | no.such.example.org cannot be reached at port",
                "user     | night  | "
            })
    void signsIn(String fact, String value, String complaint) {
        Map<String, String> facts = facts(key);
        facts.put(fact, value == null ? "" : value);
        Optional<String> said =
                service.getBean(SignIn.class).complaint(new Credential("tried", CredentialKind.SSH, facts, PASSWORD));
        assertThat(said.orElse("")).startsWith(complaint == null ? "" : complaint);
        assertThat(said.isEmpty()).isEqualTo(complaint == null);
    }

    @Test
    @DisplayName("is rehearsed on that host")
    void isRehearsed() {
        String job = define("acts-as: harbour-host\ndoes: { command: [ no-such ] }\n");
        var rehearsal = service.getBean(Rehearsals.class)
                .of(
                        service.getBean(Jobs.class).named(job).orElseThrow(),
                        Map.of(),
                        Optional.empty(),
                        Optional.empty(),
                        Instant.now());
        assertThat(rehearsal.actsAs()).isEqualTo("night@127.0.0.1");
        assertThat(rehearsal.lines().toString())
                .contains("text=127.0.0.1")
                .contains("on 127.0.0.1 there is no program 'no-such'");
    }

    @Test
    @DisplayName("leaves no connection behind that would keep others from the host")
    void givesItsWayBack() throws IOException {
        // this one keeps its connections for a next request
        kiosk.createContext("/kept", exchange -> {
            exchange.sendResponseHeaders(200, 4);
            exchange.getResponseBody().write("kept".getBytes(StandardCharsets.UTF_8));
            exchange.getResponseBody().close();
        });
        Run beside = begin(waitsFor("gone"));
        Await.until("it runs", () -> logs(beside, "one"));
        String check =
                "    - { name: n%d, request: '" + address() + "/kept', contains: kept, from: [ harbour-host ] }\n";
        Run run = run("does:\n  checks:\n"
                + IntStream.range(0, 14).mapToObj(check::formatted).collect(Collectors.joining()));
        assertThat(run.message()).isEqualTo("14 checks passed");
        Files.createFile(home.resolve("gone"));
        Await.until("the other has ended", () -> logs(beside, "two"));
    }

    @ParameterizedTest(name = "{0}: {1}")
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '~',
            value = {
                "file: '/there/it''s here.csv', settled: 1 h      | ",
                "file: /there/none.csv                          | it is not there",
                "file: /there                                   | it is not there",
                "file: /there/new.csv, settled: 1 h             | it has 3 bytes, and was changed",
                "file: '/there/it''s*.csv', settled: 1 h         | ",
                "file: /there/*.csv                             | ",
                "file: /there/*.csv, settled: 1 h               | 2 files with 4 bytes; the latest was changed",
                "file: /there/n?.csv                            | none is there",
                "file: /there/*                                 | ",
                "file: /there/none/*                            | none is there",
                "free: 1 MB, under: /there                      | ",
                "free: 900000 GB, under: /there                 | are free",
                "free: 1 MB, under: /there/none.csv             | there is no folder",
                "load: 900                                      | ",
                "load: 0.01, during: 1 s                        | it is"
            })
    @DisplayName("starts when what it waits for is so on that host")
    void waitsForTheHost(String gate, String saw) throws IOException {
        Path there = Files.createDirectories(home.resolve("it's there"));
        Files.setLastModifiedTime(
                Files.writeString(there.resolve("it's here.csv"), "x"),
                FileTime.from(Instant.now().minusSeconds(7200)));
        Files.writeString(there.resolve("new.csv"), "abc");
        String asked =
                gate.replaceAll("(?<=: '?)/there", there.toString().replace("'", gate.contains(": '/") ? "''" : "'"));
        String patience = " } ]\ngate-patience: { look-every: 1 s, for: 2 s, then: fail }\n";
        String does = "does: { shell: 'true' }\ngates: [ { " + asked;
        Run run = run("acts-as: harbour-host\n" + does + ", host: harbour-host" + patience);
        if (saw == null) {
            assertThat(run.state()).as(run.message()).isEqualTo(RunState.SUCCEEDED);
        } else {
            assertThat(run.message()).contains(" on the host of harbour-host: ").contains(saw);
        }
        if (gate.startsWith("file")) {
            Run here = run(does + patience);
            assertThat(here.state()).as("this host sees the same").isEqualTo(run.state());
            assertThat(here.message()).contains(saw == null ? "exit code 0" : ": " + saw);
        }
    }

    @Test
    @DisplayName("waits for a host only where the credential is that of one")
    void knowsHosts() {
        assertThatThrownBy(() -> define("does: { shell: x }\ngates: [ { file: /x, host: tickets } ]\n"))
                .hasMessageContaining("'tickets' is of the kind database; a host is one of the kind ssh");
    }

    @ParameterizedTest(name = "not from {0}: {1}")
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '~',
            value = {
                "[ tickets ]                    | no check can be asked from 'tickets', which is of the kind database; it must be ssh",
                "[ harbour-host, harbour-host ] | at most 20 hosts, each once",
                "[ nowhere ]                    | there is no credential 'nowhere'",
                "[ 'a b' ]                      | 'a b' is no name of a credential"
            })
    void isAskedFromHosts(String from, String complaint) {
        String rest = "does: { checks: [ { name: x, request: '" + address() + "/open', contains: x, from: " + from
                + " } ] }\n";
        String said;
        try {
            said = run(rest).message();
        } catch (RuntimeException e) {
            said = e.getMessage();
        }
        assertThat(said).contains(complaint);
    }

    @Test
    @DisplayName("can be the asking of an address from there, which is an item for each host")
    void asksFromThere() throws IOException {
        Run run = run(
                """
                does:
                  checks:
                    - { name: kiosk, request: "%s/open", at: /kiosk/name, contains: skarholm, from: [ harbour-host ] }
                    - { name: nobody, request: "http://127.0.0.1:1/", contains: x, from: [ harbour-host ] }
                    - { name: cloud, request: "http://169.254.169.254/", contains: x, from: [ harbour-host ] }
                """
                        .formatted(address()));
        assertThat(log(run))
                .contains(
                        "passed  kiosk from harbour-host: ",
                        "FAILED  nobody from harbour-host: nothing answers at 127.0.0.1",
                        "FAILED  cloud from harbour-host: no request of a job goes to 169.254.169.254");
    }
}
