package org.gantrel.service.work;

import static org.assertj.core.api.Assertions.assertThat;

import com.lowagie.text.pdf.PdfReader;
import com.lowagie.text.pdf.parser.PdfTextExtractor;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.zip.ZipFile;
import org.gantrel.core.run.RunState;
import org.gantrel.service.run.Run;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

@DisplayName("What work says of itself")
class WorkSaysTest extends WorkingService {

    private static List<String> rows(String query) throws SQLException {
        var found = new ArrayList<String>();
        try (Connection tickets = DriverManager.getConnection(TICKETS);
                ResultSet rows = tickets.createStatement().executeQuery(query)) {
            while (rows.next()) {
                found.add(rows.getString(1));
            }
        }
        return found;
    }

    private static void execute(String statement) throws SQLException {
        try (Connection tickets = DriverManager.getConnection(TICKETS)) {
            tickets.createStatement().execute(statement);
        }
    }

    @Test
    @DisplayName("requests in order use what earlier ones gave, and hide it; answers have limits, headers and values")
    void asksInOrder() throws IOException {
        kiosk.createContext("/session", exchange -> {
            byte[] asked = exchange.getRequestBody().readAllBytes();
            byte[] body =
                    ("{\"token\":\"opens-" + new String(asked, StandardCharsets.UTF_8).length() + "\"}").getBytes();
            exchange.getResponseHeaders().set("X-Kind", "session; v=2");
            exchange.sendResponseHeaders(200, body.length);
            exchange.getResponseBody().write(body);
            exchange.close();
        });
        kiosk.createContext("/passes", exchange -> {
            String token = exchange.getRequestHeaders().getFirst("Authorization");
            byte[] body = ("{\"open\":[{\"n\":12}],\"for\":\"" + token + "\"}").getBytes();
            exchange.sendResponseHeaders("Bearer opens-11".equals(token) ? 200 : 401, body.length);
            exchange.getResponseBody().write(body);
            exchange.close();
        });
        Run run = run(
                """
                parameters: { n: { type: number, default: 12.5 } }
                does:
                  checks:
                    - { name: signs in, request: "%1$s/session", method: POST, json: { n: "${n}" }, take: { token: /token }, header: { X-Kind: v=2 } }
                    - { name: counts, request: "%1$s/passes", headers: { Authorization: "Bearer ${token}" }, at: /open/0/n, at-least: 10 }
                    - { name: is quick, request: "%1$s/open", faster-than: 1 h, contains: skarholm }
                    - { name: is signed, request: "%1$s/open", certificate-days: 14 }
                    - { name: says more, request: "%1$s/passes", headers: { Authorization: "Bearer ${token}" }, header: { X-Kind: v=3 } }
                """
                        .formatted(address()));
        assertThat(run.message()).startsWith("2 of 5 items failed: is signed (there is no certificate");
        assertThat(log(run))
                .contains("passed  signs in", "passed  counts: saw 12", "the header X-Kind is ''")
                .doesNotContain("opens-11");
        Run refused = run("does: { checks: [ { name: a, request: \"" + address()
                + "/open\", take: { gone: /nothing } }, { name: b, request: \"" + address()
                + "/open/${gone}\" } ] }\n");
        assertThat(refused.message()).startsWith("2 of 2 items failed: a (the answer has nothing at /nothing)");
    }

    @Test
    @DisplayName("rows of a query or an answer change those that are there by their key, and add the others")
    void loadsByKey() throws SQLException {
        execute("create table notice (number int primary key, title varchar(40), valid_until date, urgent boolean)");
        execute("insert into notice values (1, 'old', '2026-01-01', false), (9, 'stays', null, null)");
        kiosk.createContext("/notices", exchange -> {
            byte[] body = ("{\"items\":[{\"id\":1,\"name\":\"fog\",\"until\":\"2026-12-01\",\"urgent\":true},"
                            + "{\"id\":2,\"name\":\"ice\",\"until\":null},{\"id\":2,\"name\":\"ice again\"}]}")
                    .getBytes();
            exchange.sendResponseHeaders(200, body.length);
            exchange.getResponseBody().write(body);
            exchange.close();
        });
        Run run = run(
                "does: { request: \"" + address()
                        + "/notices\", to-table: { table: notice, mode: merge, key: [ number ],"
                        + " database: tickets, rows: /items, columns: { number: id, title: name, valid_until: until, urgent: urgent } } }\n");
        assertThat(run.message()).isEqualTo("answered 200, 3 rows into notice (1 new, 2 changed)");
        assertThat(run.results()).containsEntry("inserted", "1").containsEntry("updated", "2");
        assertThat(rows(
                        "select number || ' ' || title || ' ' || coalesce(cast(valid_until as varchar), '-') || ' ' || coalesce(urgent, false)"
                                + " from notice order by number"))
                .containsExactly("1 fog 2026-12-01 TRUE", "2 ice again - FALSE", "9 stays - FALSE");
        String query =
                "acts-as: tickets\ndoes: { sql: \"select number, 'x' as what from notice union all select 77, 'y'\","
                        + " to-table: { table: notice, mode: %s, key: [ number ], columns: { number: number, title: %s } } }\n";
        assertThat(run(query.formatted("update", "what")).message())
                .isEqualTo("4 rows into notice (0 new, 3 changed, 1 not there)");
        assertThat(rows("select distinct title from notice")).containsExactly("x");
        assertThat(run(query.formatted("update", "wat")).message())
                .contains("the rows have no value 'wat'", "did you mean 'WHAT'?");
        execute("drop table notice");
    }

    @ParameterizedTest(name = "{0}")
    @CsvSource(
            delimiter = '|',
            value = {
                "select formatdatetime(${day}, 'yyyy') as y        | y = 2026",
                "select count(*) as n from sale where sold_on > ${day} - 7 | n = 3",
                "select count(*) as n from sale where sold_on = ${day}     | n = 2",
                "select count(*) as n from sale where route = ${route}     | n = 2",
                "select ${n} + 0.25 as n                           | n = 12.75",
                "select dateadd('DAY', 1, ${planned.date}) > ${day} as later | later = TRUE"
            })
    @DisplayName("values reach statements as what they are, without casts")
    void bindsWhatTheyAre(String query, String result) {
        Run run = run("parameters: { day: { type: date, default: 2026-11-22 }, route: { type: text, default: sound },"
                + " n: { type: number, default: 12.5 } }\nacts-as: tickets\ndoes: { sql: \"" + query + "\" }\n");
        assertThat(run.state()).as(run.message()).isEqualTo(RunState.SUCCEEDED);
        assertThat(run.results()).isEqualTo(Map.of(result.split(" = ")[0], result.split(" = ")[1]));
    }

    @ParameterizedTest(name = "{0}: {1}")
    @CsvSource(
            delimiter = '|',
            value = {
                "sql: select * from sale where cents < 0, when-empty: failed    | failed    | the query gave no row",
                "sql: select * from sale where cents < 0, when-empty: warned    | warned    | the query gave no row",
                "sql: select * from sale where cents < 0                        | succeeded | 0 rows",
                "sql: delete from sale where cents < 0, when-empty: failed      | succeeded | 0 rows changed",
                "sql: delete from sale where cents < 0, take: { all: select count(*) from sale } | succeeded | 0 rows changed"
            })
    @DisplayName("no row is what the job says it is")
    void saysWhenEmpty(String does, String state, String message) {
        Run run = run("acts-as: tickets\ndoes: { " + does + " }\n");
        assertThat(run.state().word()).isEqualTo(state);
        assertThat(run.message()).isEqualTo(message);
        assertThat(run.results().get("all")).isEqualTo(does.contains("take") ? "3" : null);
    }

    @Test
    @DisplayName("of files tells whether subfolders belong to it")
    void saysWhetherDeep() throws IOException {
        Path root = Files.createDirectories(folder.resolve("flat/deep")).getParent();
        Files.writeString(root.resolve("a.csv"), "1");
        Files.writeString(root.resolve("deep/b.csv"), "2");
        String list = "does: { files: list, under: " + root + ", matching: \"*.csv\"";
        assertThat(run(list + " }\n").message()).isEqualTo("2 files found, 2 bytes");
        assertThat(run(list + ", deep: no }\n").message()).isEqualTo("1 file found, 1 byte");
        Run none =
                run("does: { files: list, under: " + root + ", matching: \"*.pdf\", deep: no, when-empty: warned }\n");
        assertThat(none.state()).isEqualTo(RunState.WARNED);
        assertThat(none.message()).isEqualTo("no file below " + root + ", subfolders left out");
    }

    @Test
    @DisplayName(
            "a PDF keeps Latin, Greek and Cyrillic letters, has a title and page numbers; what its font lacks is warned of")
    void keepsLetters() throws IOException {
        String query = "select 'Ñandú Ωμέγα Привет' as word, cast('2026-11-24 03:00:00' as timestamp) as at,"
                + " cast(0.1 as double precision) + 0.2 as share";
        Run run = run("acts-as: tickets\ndoes: { sql: \"" + query + "\", to-file: words.pdf }\n");
        assertThat(run.state()).as(run.message()).isEqualTo(RunState.SUCCEEDED);
        try (var reader = new PdfReader(Files.readAllBytes(kept(run).resolve("outputs/words.pdf")))) {
            assertThat(new PdfTextExtractor(reader).getTextFromPage(1))
                    .contains("Ñandú Ωμέγα Привет", "2026-11-24 03:00", "0.3", "page 1")
                    .doesNotContain("0.30000");
            assertThat(reader.getInfo()).containsEntry("Title", "words.pdf");
        }
        Run lacking = run("acts-as: tickets\ndoes: { sql: \"select '渡船 ferry' as word\", to-file: words.pdf }\n");
        assertThat(lacking.state()).isEqualTo(RunState.WARNED);
        assertThat(lacking.message()).endsWith(", 2 letters not shown");
        assertThat(log(lacking)).contains("lacks 2 letters");
    }

    @Test
    @DisplayName("a sheet has real dates and numbers, and a text that looks like a formula is a text")
    void keepsKinds() throws IOException {
        Run run = run("acts-as: tickets\ndoes: { sql: \"select '=1+1' as a, date '2026-11-24' as b, 12.5 as c\","
                + " to-file: kinds.xlsx }\n");
        try (var book = new ZipFile(kept(run).resolve("outputs/kinds.xlsx").toFile())) {
            String sheet = new String(
                    book.getInputStream(book.getEntry("xl/worksheets/sheet1.xml"))
                            .readAllBytes(),
                    StandardCharsets.UTF_8);
            assertThat(sheet)
                    .contains("<v>12.5</v>")
                    .containsPattern("<v>46350(\\.0)?</v>")
                    .doesNotContain("<f>");
        }
    }

    @ParameterizedTest(name = "{0}: {1} {2}")
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '~',
            value = {
                "acts-as: tickets\\ndoes: { sql: select sold_on from sale, to-table: { table: nowhere } } | WRONG | Table \"NOWHERE\" not found",
                "acts-as: tickets\\ndoes: { sql: select 1 as more, to-table: { table: copy } } | WRONG | Column \"MORE\" not found",
                "acts-as: tickets\\ndoes: { sql: select cents as sold_on from sale, to-table: { table: copy } } | WRONG | column SOLD_ON takes dates, and the rows bring numbers",
                "acts-as: tickets\\ndoes: { sql: select sold_on from sale, to-table: { table: copy } } | FINE | has the columns SOLD_ON",
                "acts-as: tickets\\ndoes: { sql: [ create table fresh (a int), select * from fresh ] } | UNTRIED | what an earlier statement makes",
                "acts-as: tickets\\ndoes: { checks: [ { name: a, sql: select * from nowhere, at-least: 1 } ] } | WRONG | Table \"NOWHERE\" not found",
                "acts-as: tickets\\ndoes: { checks: [ { name: a, sql: delete from sale, at-least: 1 } ] } | WRONG | is no query",
                "does: { checks: [ { name: a, file: /no/such } ] } | DOES | which is not there now",
                "does: { request: http://127.0.0.1:1/x, body: '{ a }', method: POST } | WRONG | is no JSON",
                "acts-as: post\\ndoes: { mail: x, to: [ a@example.org ], attach: [ /no/such ] } | WRONG | there is no file /no/such to send",
                "acts-as: post\\ndoes: { mail: x, to: [ a@example.org ], attach: [ \"sheet: a.pdf\" ] } | UNTRIED | when that has run",
                "acts-as: post\\ndoes: { mail: x, to: [ a@example.org ] } | UNTRIED | is seen when it is sent",
                "does: { shell: exit 0 } | UNTRIED | are looked for when it runs",
                "acts-as: nobody\\nraised: yes\\ndoes: { command: [ echo ] } | WRONG | 'raised: yes', and the account nobody is an ordinary one"
            })
    @DisplayName("a rehearsal tries what can be tried, and says what it did not try")
    void rehearses(String does, String kind, String text) {
        assertThat(rehearsed(define(does.replace("\\n", "\n") + "\n"), Optional.empty()))
                .anySatisfy(line -> {
                    assertThat(line.kind()).hasToString(kind);
                    assertThat(line.text()).contains(text);
                });
    }
}
