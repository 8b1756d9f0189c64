package org.gantrel.service.work;

import static java.nio.charset.StandardCharsets.ISO_8859_1;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import org.gantrel.core.run.RunState;
import org.gantrel.service.imports.Imports;
import org.gantrel.service.imports.Imports.DefinitionFile;
import org.gantrel.service.imports.Imports.ImportBody;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.RunValues;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.condition.EnabledIf;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

@DisplayName("The work of a task")
class WorkTest extends WorkingService {

    @Test
    @DisplayName("may be a request under an identity, whose answer gives values; what is secret is covered everywhere")
    void requests() throws IOException {
        Run run = run("acts-as: kiosk\ndoes: { request: \"" + address()
                + "/state\", take: { name: /kiosk/name, said: /said }, save-to: answer.json }\n");
        assertThat(run.state()).as(run.message()).isEqualTo(RunState.SUCCEEDED);
        assertThat(run.results()).containsEntry("name", "skarholm").containsEntry("said", RunValues.MASK);
        assertThat(log(run)).contains("answered 200").doesNotContain(SECRET);
        assertThat(kept(run).resolve("outputs/answer.json")).exists();
        Run refused = run("does: { request: \"" + address() + "/state\" }\n");
        assertThat(refused.message()).isEqualTo("answered 401, expected 200-299");
        assertThat(run("does: { request: \"" + address() + "/open\", take: { x: /no/where } }\n")
                        .message())
                .isEqualTo("the answer has nothing at /no/where, where x is expected");
        assertThat(run("does: { request: \"http://127.0.0.1:1/\" }\n").message())
                .isEqualTo("nothing answers at 127.0.0.1:1");
    }

    @ParameterizedTest(name = "{0}, which begins with {1}")
    @CsvSource({"csv, SOLD_ON", "json, '[{\"sold_on\"'", "xlsx, PK", "html, <!DOCTYPE html>", "pdf, %PDF"})
    void queriesGoToFiles(String format, String begins) throws IOException {
        Run run = run(
                """
                acts-as: tickets
                parameters: { route: { type: text } }
                does: { sql: "select * from sale where route = ${route} order by sold_on", to-file: "sales-${route}.%s" }
                """
                        .formatted(format),
                Map.of("route", "sound"));
        assertThat(run.message()).startsWith("2 rows in sales-sound." + format);
        byte[] bytes = Files.readAllBytes(kept(run).resolve("outputs/sales-sound." + format));
        assertThat(new String(bytes, ISO_8859_1)).startsWith(begins);
    }

    @Test
    @DisplayName("may load rows into a table in place of a day's slice, all or nothing, with values never read as SQL")
    void loadsTables() throws SQLException, IOException {
        String load =
                """
                acts-as: tickets
                parameters: { day: { type: text } }
                does:
                  sql: "select * from sale where sold_on = ${day}"
                  to-table: { table: copy, mode: slice, slice: sold_on, of: "${day}" }
                """;
        assertThat(run(load, Map.of("day", "2026-11-22")).message()).isEqualTo("2 rows into copy");
        assertThat(run(load, Map.of("day", "2026-11-22")).message()).isEqualTo("2 rows into copy in place of 2");
        Run attack = run(load, Map.of("day", "2026-11-22'; drop table copy; --"));
        assertThat(attack.state()).isEqualTo(RunState.FAILED);
        assertThat(attack.message()).startsWith("the database said:");
        Run half = run("acts-as: tickets\ndoes: { sql: [ delete from copy, select * from nowhere ] }\n");
        assertThat(half.state()).isEqualTo(RunState.FAILED);
        try (Connection tickets = DriverManager.getConnection(TICKETS, "settle", SECRET);
                ResultSet rows = tickets.createStatement().executeQuery("select count(*) from copy")) {
            rows.next();
            assertThat(rows.getInt(1)).isEqualTo(2);
        }
        assertThat(run("does: { sql: select 1 }\n").message())
                .contains("acts-as names a credential of the kind database");
    }

    @Test
    @DisplayName("may be checks, each an item with what was seen; all are looked at")
    void checks() throws IOException {
        Path file = Files.writeString(folder.resolve("tides.csv"), "high 04:12\n");
        Run run = run(
                """
                acts-as: tickets
                does:
                  checks:
                    - { name: sales are in, sql: "select count(*) from sale", at-least: 1 }
                    - { name: few sales, sql: "select count(*) from sale", at-most: 2 }
                    - { name: kiosk sells, request: "%s/open", contains: skarholm }
                    - { name: tides are there, file: %s, newer-than: P1D, contains: high }
                    - { name: far file, file: /no/such/file }
                """
                        .formatted(address(), file));
        assertThat(run.message()).isEqualTo("2 of 5 items failed: few sales (expected at most 2, saw 3)");
        assertThat(log(run)).contains("passed  kiosk sells", "FAILED  far file: there is no file /no/such/file");
    }

    @Test
    @DisplayName("takes a value for what it is: no part of an address, of a header or of a mail is made by one")
    void valuesAreNoCode() throws Exception {
        String to = "parameters: { v: { type: text, default: \"%s\" } }\n";
        Run asked = run(to.formatted("a/b&c=ø #") + "does: { request: \"" + address() + "/open/${v}?v=${v}\" }\n");
        assertThat(log(asked)).contains("/open/a%2Fb%26c%3D%C3%B8%20%23?v=a%2Fb%26c%3D%C3%B8%20%23", "answered 200");
        Run header = run(
                to.formatted("ø") + "does: { request: \"" + address() + "/open\", headers: { X-Port: \"${v}\" } }\n");
        assertThat(header.message())
                .isEqualTo("the header X-Port holds the character U+00F8, and headers are written in ASCII");
        String mail = "acts-as: post\n" + to + "does: { mail: \"%s\", to: [ \"%s\" ], text: x }\n";
        Run others = run(mail.formatted("a@example.org, b@example.org", "x", "${v}"));
        assertThat(others.message())
                .isEqualTo("'a@example.org, b@example.org' is not the address of one mailbox,"
                        + " such as planning@example.org");
        Run subject = run(mail.formatted("x\\nBcc: b@example.org", "of ${v}", "a@example.org"));
        assertThat(subject.state()).as(subject.message()).isEqualTo(RunState.SUCCEEDED);
        assertThat(WorkingService.mail.getReceivedMessages())
                .extracting(each -> each.getHeader("Bcc"))
                .containsOnlyNulls();
    }

    @Test
    @DisplayName("reads an answer in the character set that it names, and refuses rows that are not in UTF-8")
    void otherCharacterSets() throws IOException {
        Run run = run("does:\n  checks:\n"
                + "    - { name: named, request: \"" + address() + "/open?iso-8859-1\", contains: Skarhølm }\n"
                + "    - { name: unknown, request: \"" + address() + "/open?no-such-set\", contains: Skarh }\n"
                + "    - { name: none, request: \"" + address() + "/open?utf-8\", contains: Skarhølm }\n");
        assertThat(run.message()).startsWith("1 of 3 items failed: none (");
        Path rows = Files.write(folder.resolve("latin.csv"), "route\nsound\nø\n".getBytes(ISO_8859_1));
        String form = "roster: latin\nteam: revenue\nfrom: { csv: " + rows + " }\n";
        service.getBean(Imports.class).bringIn(SERVICE, false, new ImportBody(List.of(new DefinitionFile("r", form))));
        String name = define("parameters: { route: { type: text } }\ndoes: { command: [ echo, \"${route}\" ] }\n");
        assertThat(rehearsed(name, Optional.of("latin")))
                .anyMatch(line -> line.text().contains("line 3 is not written in UTF-8, which is expected here"));
        String said = form.replace(" }", ", charset: windows-1252 }");
        service.getBean(Imports.class).bringIn(SERVICE, false, new ImportBody(List.of(new DefinitionFile("r", said))));
        assertThat(rehearsed(name, Optional.of("latin")))
                .anyMatch(line -> line.text().equals("route = ø"));
    }

    @Test
    @DisplayName("may thin out a folder by age, never outside of it, never more than it may")
    void worksOnFiles() throws IOException {
        Path root = Files.createDirectories(folder.resolve("tides/old"));
        for (int i = 0; i < 5; i++) {
            Path file = Files.writeString(root.resolve("t" + i + ".csv"), "x".repeat(i));
            Files.setLastModifiedTime(file, FileTime.from(Instant.now().minus(Duration.ofDays(10L * i))));
        }
        Path outside = Files.writeString(folder.resolve("outside.csv"), "stays");
        Files.createSymbolicLink(root.resolve("link.csv"), outside);
        String under = "under: " + root.getParent() + ", matching: \"*.csv\"";
        assertThat(run("does: { files: delete, " + under + ", at-most: 2 }\n").message())
                .startsWith("more than 2 files match");
        Run rehearsed = run("does: { files: list, " + under + ", older-than: P15D }\n");
        assertThat(rehearsed.message()).isEqualTo("3 files found, 9 bytes");
        Path away = root.resolveSibling("away");
        String thin = "does: { files: delete, " + under + ", older-than: P15D, quarantine: " + away + " }\n";
        run(thin);
        String compress = "does: { files: compress, under: " + root + ", older-than: P5D }\n";
        run(compress);
        try (Stream<Path> left = Files.list(root)) {
            assertThat(left.map(file -> file.getFileName().toString()))
                    .containsExactlyInAnyOrder("t0.csv", "t1.csv.gz", "link.csv");
        }
        assertThat(outside).hasContent("stays");
        assertThat(run(compress).message()).startsWith("0 files");
        Files.setLastModifiedTime(
                Files.writeString(root.resolve("t4.csv"), "new"),
                Files.getLastModifiedTime(away.resolve("old/t4.csv")));
        assertThat(run(thin).message()).startsWith("1 file put away into");
        assertThat(away.resolve("old/t4.csv")).hasContent("xxxx");
        assertThat(away.resolve("old/t4.csv.2")).hasContent("new");
        assertThat(run("does: { files: list, under: " + root + "/../../.. }\n").message())
                .contains("is no full path of a folder");
    }

    @Test
    @DisplayName("may be a mail with a file")
    void sendsMails() throws Exception {
        Path file = Files.writeString(folder.resolve("sales.txt"), "1250");
        Run run = run("acts-as: post\nparameters: { day: { type: date, default: 2026-11-22 } }\n"
                + "does: { mail: \"Sales of ${day}\", to: [ mara@example.org ], text: Here they are., attach: [ " + file
                + " ] }\n");
        // the stand-in asks for no password, and the credential has no user
        assertThat(run.state()).as(run.message()).isEqualTo(RunState.SUCCEEDED);
        assertThat(subjects()).contains("Sales of 2026-11-22");
    }

    @ParameterizedTest(name = "{0}: {2}")
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '~',
            value = {
                "outcome: { failed-by: [ ^ERROR ] }        | echo fine; echo ERROR no route            | it said: ERROR no route",
                "outcome: { warned-by: [ slow ] }          | echo a slow one                           | it said: a slow one",
                "outcome: { error-stream: failed }         | echo oops >&2                             | it wrote to its error stream: oops",
                "outcome: { test-results: t/*.xml }        | mkdir t; echo '<a><testcase name=\"k\"><error message=\"no\"/></testcase></a>' > t/a.xml | 1 of 1 items failed: k (no)",
                "outcome: { test-results: t/*.xml }        | true                                      | 1 of 1 items failed: test results",
                "exit-codes: { warned: [ 3 ] }             | exit 3                                    | exit code 3, which this job counts as a warning",
                "outputs: [ { file: out.csv } ]            | true                                      | exit code 0; the output out.csv is not there",
                "outputs: [ { file: out.csv, at-most: 1B } ] | echo much > out.csv                     | exit code 0; the output out.csv has 5 bytes, at most 1 are kept"
            })
    void isJudged(String rule, String line, String message) {
        assertThat(run("does:\n  shell: |-\n    " + line + "\n" + rule + "\n").message())
                .startsWith(message);
    }

    @Test
    @DisplayName("of a command gets secrets and values without a trace on the disk, and its outputs are kept")
    void keepsSecrets() throws IOException {
        Run run = run(
                """
                parameters: { key: { type: secret }, day: { type: date } }
                does:
                  shell: "cat; echo; echo $TOKEN ${key}; mkdir out; echo 1 > out/a.csv; echo 2 > out/b.csv"
                  input: values
                  secrets: { TOKEN: processor }
                outputs: [ { name: "sales-${day}", file: out } ]
                """,
                Map.of("key", "s3cret-key", "day", "2026-11-22"));
        assertThat(run.state()).as(run.message()).isEqualTo(RunState.SUCCEEDED);
        assertThat(log(run)).contains("{\"key\":\"••••••\",\"day\":\"2026-11-22\"}", "•••••• ••••••");
        assertThat(kept(run).resolve("outputs/sales-2026-11-22/out/b.csv")).hasContent("2");
        try (Stream<Path> files = Files.walk(folder.resolve("data"))) {
            for (Path file : files.filter(Files::isRegularFile).toList()) {
                String bytes = new String(Files.readAllBytes(file), ISO_8859_1);
                assertThat(bytes).as(file.toString()).doesNotContain(SECRET).doesNotContain("s3cret-key");
            }
        }
    }

    static boolean isPrivileged() {
        return System.getProperty("user.name").equals("root");
    }

    @Test
    @EnabledIf("isPrivileged")
    @DisplayName(
            "may run as another account with its groups and a clean environment; the privileged one only where it is said")
    void runsAsAnotherAccount() throws IOException {
        Run run = run("acts-as: nobody\ndoes: { shell: \"id -un; id -Gn; echo $HOME; touch mine\" }\n");
        assertThat(run.state()).as(run.message()).isEqualTo(RunState.SUCCEEDED);
        assertThat(run.actsAs()).isEqualTo("nobody");
        assertThat(log(run)).startsWith("nobody\nnogroup\n/nonexistent\n");
        assertThat(run("acts-as: root\ndoes: { shell: id }\n").message())
                .isEqualTo("not started: the account root may do everything, and the job does not say 'raised: yes'");
        assertThat(log(run("acts-as: root\nraised: yes\ndoes: { shell: id -un }\n")))
                .isEqualTo("root\n");
    }

    @Test
    @DisplayName(
            "of a team that may not use a credential is refused when it is brought in, with the nearest that it may use")
    void refusesCredentials() {
        Imports imports = service.getBean(Imports.class);
        String text = "task: stranger\nteam: harbour\nacts-as: tickets\ndoes: { sql: select 1 }\n";
        assertThatThrownBy(
                        () -> imports.bringIn(SERVICE, false, new ImportBody(List.of(new DefinitionFile("t", text)))))
                .hasMessageContaining("may not use the credential 'tickets'; the team revenue decides that");
        assertThatThrownBy(() -> define("acts-as: tickts\ndoes: { sql: select 1 }\n"))
                .hasMessageContaining("there is no credential 'tickts'; did you mean 'tickets'?");
        assertThat(run("acts-as: kiosk\ndoes: { sql: select 1 }\n").message())
                .isEqualTo("not started: a sql cannot act as 'kiosk', which is of the kind http-bearer");
    }

    @ParameterizedTest(name = "{0}: {1} {2}")
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '~',
            value = {
                "acts-as: tickets\\ndoes: { sql: \"select * from sale where route = ${route}\" } | DOES  | select * from sale where route = ?   with 1: sound",
                "acts-as: tickets\\ndoes: { sql: select * from sal }        | WRONG | Table \"SAL\" not found",
                "does: { command: [ ./setle.sh, \"${route}\" ], in: /tmp }  | WRONG | there is no program /tmp/setle.sh",
                "does: { command: [ echo, \"${route}\" ] }                  | DOES  | sound",
                "does: { request: \"http://127.0.0.1:1/${route}\" }         | WRONG | nothing answers at 127.0.0.1:1",
                "does: { files: list, under: /no/such }                     | WRONG | there is no folder /no/such",
                "acts-as: post\\ndoes: { mail: Hello, to: [ a@example.org ] } | FINE  | takes connections"
            })
    void isRehearsed(String does, String kind, String text) {
        String name =
                define("parameters: { route: { type: text, default: sound } }\n" + does.replace("\\n", "\n") + "\n");
        assertThat(rehearsed(name, Optional.empty())).anySatisfy(line -> {
            assertThat(line.kind()).hasToString(kind);
            assertThat(line.text()).contains(text);
        });
    }

    @ParameterizedTest(name = "over {0}: {1} {2}")
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '~',
            value = {
                "from: { sql: select distinct route from sale order by 1, acts-as: tickets } | DOES | route = skarholm",
                "from: { sql: select distinct route from sale order by 1, acts-as: tickets } | DOES | 2 of 2 rows would begin; what follows is for row 1",
                "from: { sql: select distinct route from sale order by 1, acts-as: tickets } | DOES | from skarholm",
                "from: { sql: select route from nowhere, acts-as: tickets } | WRONG | the database said:",
                "from:\\n  sql: select 'a' as route from system_range(1, 1009)\\n  acts-as: tickets | UNTRIED | those after the first 1000",
                "from: { sql: select 1 as cents, acts-as: tickets }           | WRONG | 'cents' is no parameter of",
                "columns: [ route, n ]\\nrows: [ { route: a, n: 1 }, { route: b, n: x }, { route: c, n: 2 } ] | WRONG | n: 'x' is not a number",
                "columns: [ route, n ]\\nrows: [ { route: a, n: 1 }, { route: b, n: x }, { route: c, n: 2 } ] | DOES | 2 of 3 rows would begin",
                "columns: [ route ]\\nrows: [ { route: sound, include: no } ] | DOES  | none; nothing would be done",
                "columns: [ route ]\\nrows: [ { route: sound } ]              | DOES  | from sound",
                "from: { csv: /no/such.csv }                                  | WRONG | there is no file /no/such.csv"
            })
    void isRehearsedOverARoster(String rows, String kind, String text) {
        String roster = "roster-" + ++jobs;
        String form = "roster: " + roster + "\nteam: revenue\n" + rows.replace("\\n", "\n") + "\n";
        service.getBean(Imports.class).bringIn(SERVICE, false, new ImportBody(List.of(new DefinitionFile("r", form))));
        String name = define(
                "parameters: { route: { type: text, default: none }, n: { type: number, default: 1 } }\ndoes: { command: [ echo, \"from ${route}\" ] }\n");
        assertThat(rehearsed(name, Optional.of(roster))).anySatisfy(line -> {
            assertThat(line.kind()).hasToString(kind);
            assertThat(line.text()).contains(text);
        });
    }
}
