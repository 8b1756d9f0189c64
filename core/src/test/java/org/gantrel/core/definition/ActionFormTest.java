package org.gantrel.core.definition;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.List;
import java.util.Map;
import org.gantrel.core.action.Action;
import org.gantrel.core.action.Checks;
import org.gantrel.core.action.Command;
import org.gantrel.core.action.FileWork;
import org.gantrel.core.action.GitSource;
import org.gantrel.core.action.MailMessage;
import org.gantrel.core.action.Request;
import org.gantrel.core.action.Sql;
import org.gantrel.core.expression.Bindings;
import org.gantrel.core.expression.PlannedTime;
import org.gantrel.core.job.Job;
import org.gantrel.core.problem.InvalidException;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

@DisplayName("What a task does")
class ActionFormTest {

    private static final Bindings SOUND = new Bindings(
            Map.of("route", "sound", "day", "2026-11-23", "n", "7", "ok", "yes"),
            new PlannedTime(Instant.parse("2026-11-23T12:00:00Z"), ZoneId.of("Europe/Oslo")));

    private static Job.Task task(String rest) {
        return (Job.Task) DefinitionReader.readOne("task: t\nteam: revenue\nparameters:\n"
                        + "  route: { type: text }\n  day: { type: date }\n  n: { type: number }\n  ok: { type: yes-no }\n"
                        + rest)
                .job();
    }

    private static Action filled(String does) {
        return task("does: " + does).action().fill(SOUND);
    }

    @Test
    @DisplayName("may be an HTTP request")
    void mayBeARequest() {
        var request = (Request)
                filled(
                        "{ request: \"http://kiosk.example.org/${route}\", method: POST, body: \"${day}\","
                                + " headers: { X-Day: \"${day}\" }, expect: [ 200, 300-303 ], save-to: \"${day}.json\", take: { open: /a/0 } }");
        assertThat(request.address()).isEqualTo("http://kiosk.example.org/sound");
        assertThat(request.headers()).containsEntry("X-Day", "2026-11-23");
        assertThat(request.saveTo()).isEqualTo("2026-11-23.json");
        assertThat(List.of(200, 301).stream().allMatch(request::expects)).isTrue();
        assertThat(List.of(201, 304, 404).stream().noneMatch(request::expects)).isTrue();
    }

    @Test
    @DisplayName("may send JSON that is written as YAML, whose values stay what they are")
    void maySendJson() {
        Job.Task task = task(
                """
                does:
                  request: "http://kiosk.example.org/"
                  json: { n: "${n}", ok: "${ok}", at: "${day}", say: "on ${route}: \\"x\\"", list: [ 1, 2.50, "3", true, null ], version: "1.0" }
                """);
        var request = (Request) task.action().fill(SOUND.typed(task.parameters().kinds()));
        assertThat(request.method()).isEqualTo("POST");
        assertThat(request.headers()).containsEntry("Content-Type", "application/json");
        assertThat(request.body())
                .isEqualTo("{\"n\": 7, \"ok\": true, \"at\": \"2026-11-23\", \"say\": \"on sound: \\\"x\\\"\","
                        + " \"list\": [1, 2.50, \"3\", true, null], \"version\": \"1.0\"}");
    }

    @Test
    @DisplayName("may be SQL, which values reach only as bind values")
    void mayBeSql() {
        var sql = (Sql) filled(
                "{ sql: [ \"delete from a\", \"select * from s where r = ${route}\" ], to-file: \"s-${day}.xlsx\" }");
        assertThat(sql.bound().get(1)).isEqualTo(new Bindings.Bound("select * from s where r = ?", List.of("sound")));
        assertThat(sql.result()).contains(new Sql.ToFile("s-2026-11-23.xlsx", Sql.Format.XLSX));
        var load = (Sql) filled("{ sql: select 1, to-table: { table: sale, mode: slice, slice: sold_on, of: \"${day}\","
                + " database: ledger } }");
        assertThat(load.result()).contains(new Sql.ToTable("sale", Sql.Mode.SLICE, "ledger", "sold_on", "2026-11-23"));
        assertThat(load.credentials()).containsExactly("ledger");
    }

    @ParameterizedTest(name = "of {0}: seen {1}, {2}")
    @CsvSource(
            delimiter = '|',
            value = {
                "equals: 3                      | 3.0   | ",
                "equals: sound                  | sound | ",
                "equals: sound                  | sund  | expected sound",
                "at-least: 1, at-most: 5        | 5     | ",
                "at-least: 1, at-most: 5        | 6     | expected at most 5",
                "at-least: 1                    | none  | expected at least 1, a number, and it is none",
                "at-least: 2026-11-23           | 2026-11-24 | ",
                "at-least: 2026-11-23           | 2026-11-22 | expected at least 2026-11-23, a date",
                "at-most: 2026-11-23            | 2026-11-23 17:30:00.0 | ",
                "at-most: 2026-11-23            | 2026-11-24 00:00:00 | expected at most 2026-11-23, a date",
                "at-least: 2026-11-23           | 12 | expected at least 2026-11-23, a date, and it is none",
                "at-least: \"07:30\"           | 7:05 | expected at least 07:30, a time",
                "at-least: \"2026-11-23T06:00:00Z\" | 2026-11-23 07:00:00+01 | ",
                "at-most: 9                     | 10    | expected at most 9",
                "equals: 2026-11-23             | 2026-11-23 00:00:00 | ",
                "contains: ell                  | selling | ",
                "contains: ell                  | shut  | expected 'ell' in it"
            })
    void mayBeChecks(String expectation, String seen, String complaint) {
        var checks =
                (Checks) filled("{ checks: [ { name: one, sql: select 1, acts-as: tickets, " + expectation + " } ] }");
        assertThat(checks.all().get(0).expectation().complaint(seen).orElse(null))
                .isEqualTo(complaint);
        assertThat(checks.credentials()).containsExactly("tickets");
    }

    @Test
    @DisplayName("may be work on files, or a mail")
    void mayBeFilesOrAMail() {
        var files = (FileWork) filled("{ files: delete, under: /srv/tides, matching: \"*.csv\", older-than: P30D,"
                + " larger-than: 10kB, quarantine: /srv/old, at-most: 20 }");
        assertThat(files.largerThan()).contains(10_000L);
        assertThat(files.to()).isEqualTo("/srv/old");
        assertThat(files.atMost()).isEqualTo(20);
        var letter = (MailMessage)
                filled("{ mail: \"Sales of ${day}\", to: [ a@example.org ], text: hello, attach: [ \"${day}.pdf\" ] }");
        assertThat(letter.subject()).isEqualTo("Sales of 2026-11-23");
        assertThat(letter.attach()).containsExactly("2026-11-23.pdf");
    }

    @Test
    @DisplayName("may act as a credential, leave outputs, and have a rule for failures")
    void mayHaveARule() {
        Job.Task task = task(
                """
                does: { shell: make, input: values, secrets: { TOKEN: processor-token } }
                acts-as: batch
                raised: yes
                outcome: { failed-by: [ "^ERROR" ], warned-by: [ WARN ], error-stream: warned, test-results: "*.xml" }
                outputs: [ { file: "out/sales-${day}.csv", at-most: 1MB } ]
                keep-outputs: P30D
                """);
        assertThat(task.identity()).isEqualTo(new Job.Identity("batch", true));
        assertThat(task.action().credentials()).containsExactly("processor-token");
        assertThat(task.outcome().testResults()).isEqualTo("*.xml");
        assertThat(task.outputs().files().get(0).fill(SOUND).name()).isEqualTo("sales-2026-11-23.csv");
    }

    @ParameterizedTest(name = "{0}: {1}")
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '~',
            value = {
                "does: { }                                             | one of command, shell, request, sql, checks, files, mail",
                "does: { sql: select 1, files: list }                  | only one of these may stand here",
                "does: { request: http://k.example.org, json: { a: 1 }, body: x } | as 'json' or as 'body', not both",
                "does: { request: http://k.example.org, take: { \"a b\": /a } } | 'a b' is no name of a value",
                "does: { sql: select 1, when-empty: fail }             | 'fail'",
                "does: { checks: [ { name: a, file: /a, at-least: soon } ] } | 'soon' is no number, date or time to compare with",
                "does: { request: kiosk.example.org }                  | begins with http:// or https://",
                "does: { request: http://k.example.org, expect: 2xx }  | '2xx' is no status",
                "does: { request: http://k.example.org, metod: GET }   | did you mean 'method'?",
                "does: { sql: select 1, to-file: a/b.csv }             | a file name is expected that ends in",
                "does: { sql: select 1, to-table: { table: a b } }     | is no name of a table",
                "does: { sql: select 1, to-table: { table: a, mode: slice } } | a slice needs its column and value",
                "does: { checks: [ ] }                                 | at least one expectation",
                "does: { checks: [ { name: x } ] }                     | it looks at one thing: sql, request or file",
                "does: { checks: [ { name: x, sql: select 1, expect: 200 } ] } | goes with 'request'",
                "does: { checks: [ { name: x, request: http://k.example.org, newer-than: 1 h } ] } | goes with 'file'",
                "does: { checks: [ { name: x, file: /a, larger-then: 1 kB } ] } | did you mean 'larger-than'?",
                "does: { files: shred, under: /srv }                   | list, delete, move, copy, compress",
                "does: { files: move, under: /srv }                    | the folder that the files go to",
                "does: { files: list, under: srv }                     | is no full path",
                "does: { files: list, under: /srv, larger-than: big }  | a size such as",
                "does: { mail: Hello, to: [ nobody ] }                 | is no mail address",
                "does: { mail: Hello, to: [ a@example.org ], text: '${rout}' } | nothing is known as 'rout'",
                "does: { shell: a, secrets: { T: 'Se cret' } }         | a value has no place here",
            })
    void isRefused(String does, String message) {
        assertThatThrownBy(() -> task(does + "\n"))
                .isInstanceOf(InvalidException.class)
                .hasMessageContaining(message);
    }

    @Test
    @DisplayName("may be taken from version control, with what is wrong said all at once")
    void mayBeTakenFromGit() {
        var command =
                (Command) filled("{ command: [ ./plan.sh ], in: bin, from: { git: \"https://git.example.org/${route}\","
                        + " at: \"v${n}\", else: last, patience: 10 s } }");
        assertThat(command.from())
                .contains(new GitSource(
                        "https://git.example.org/sound", "v7", "", GitSource.Otherwise.LAST, Duration.ofSeconds(10)));
        assertThat(command.broughtProgram()).isEqualTo("bin/plan.sh");
        assertThat(command.in("/s").folder()).isEqualTo("/s/bin");
        var here = (Command) filled("{ command: [ ./plan.sh ], in: /srv, from: { git: /srv/git/crew } }");
        assertThat(here.in("/s").arguments()).containsExactly("/s/plan.sh");
        assertThat(here.in("/s").folder()).isEqualTo("/srv");
        assertThatThrownBy(() ->
                        task("does: { command: [ ../plan.sh ], in: ../x, from: { git: crew, at: a..b, els: last } }"))
                .isInstanceOf(InvalidException.class)
                .hasMessageContaining("'crew' is no address of a repository")
                .hasMessageContaining("'a..b' names no branch, tag or commit")
                .hasMessageContaining("'../plan.sh' leaves the files")
                .hasMessageContaining("'../x' leaves the files")
                .hasMessageContaining("els");
        assertThatThrownBy(() -> task(
                        "does: { checks: [ { name: a, file: ../b } ], from: { git: \"ssh://git.example.org/crew\" } }"))
                .hasMessageContaining("one of the kind ssh")
                .hasMessageContaining("'../b' leaves the files");
    }
}
