package org.gantrel.core.definition;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.List;
import java.util.Map;
import org.gantrel.core.expression.Bindings;
import org.gantrel.core.expression.PlannedTime;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.roster.Roster;
import org.gantrel.core.roster.Roster.AfterFailure;
import org.gantrel.core.run.Emptiness;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

@DisplayName("A roster")
class RosterFormTest {

    private static final Bindings NOVEMBER =
            new Bindings(Map.of(), new PlannedTime(Instant.parse("2026-11-23T12:00:00Z"), ZoneId.of("Europe/Oslo")));

    private static Roster roster(String rest) {
        return DefinitionReader.readRoster("roster: r\nteam: revenue\n" + rest).roster();
    }

    @Test
    @DisplayName("may have rows that are written down, some of them left out")
    void mayBeWrittenDown() {
        Roster roster = roster(
                """
                columns: [ route, day ]
                rows:
                  - { route: sound, day: 2026-11-22 }
                  - { route: skarholm, include: no }
                at-once: 3
                after-failure: stop
                when-empty: warned
                """);
        assertThat(roster.rows())
                .containsExactly(
                        new Roster.Row(Map.of("route", "sound", "day", "2026-11-22"), true),
                        new Roster.Row(Map.of("route", "skarholm"), false));
        assertThat(roster.manner()).isEqualTo(new Roster.Manner(3, AfterFailure.STOP, Emptiness.WARNED));
        assertThat(roster.source()).isEmpty();
        assertThat(roster.memory().isKept()).isFalse();
    }

    @ParameterizedTest(name = "from {0}: {1}")
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '~',
            value = {
                "{ sql: \"select ${planned.date}\", acts-as: tickets } | a query as tickets",
                "{ csv: \"/srv/${planned.date}.csv\" }                 | the file /srv/2026-11-23.csv",
                "{ json: /srv/a.json }                                 | the file /srv/a.json",
                "{ files: /srv, matching: \"*.csv\" }                  | the files *.csv in /srv",
                "{ request: \"http://x.example.org/${planned.date}\" } | the answer of http://x.example.org/2026-11-23",
                "{ output: \"a-${planned.date}.csv\", of: report }     | the output a-2026-11-23.csv of report"
            })
    void mayBeDrawn(String from, String words) {
        Roster.Source source = roster("from: " + from + "\n").source().orElseThrow();
        assertThat(source.fill(NOVEMBER).words()).isEqualTo(words);
    }

    @Test
    @DisplayName("binds the values of its query, and remembers records by their key")
    void remembers() {
        Roster roster = roster(
                """
                from: { sql: "select pass, mail from p where ends_on < ${planned.date}", acts-as: tickets }
                key: [ pass, mail ]
                handled: { once: P30D, again-when: [ ends_on ] }
                """);
        var query = (Roster.FromQuery) roster.source().orElseThrow().fill(NOVEMBER);
        assertThat(query.bound().orElseThrow())
                .isEqualTo(new Bindings.Bound(
                        "select pass, mail from p where ends_on < ?",
                        List.of("2026-11-23"),
                        "select pass, mail from p where ends_on < cast(? as date)"));
        Map<String, String> row = Map.of("pass", "7012", "mail", "a@example.org", "ends_on", "2026-12-01");
        assertThat(roster.memory().keyOf(row)).isEqualTo("7012 | a@example.org");
        assertThat(roster.memory().stateOf(row)).isEqualTo("2026-12-01");
        assertThat(roster.memory().period()).contains(Duration.ofDays(30));
    }

    @ParameterizedTest(name = "{0}: {1}")
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '~',
            value = {
                "about: x                                               | columns: is missing: the parameters that each row gives, such as [ day, route ]",
                "rows: [ { to: x, include: no, n: 1 } ]                 | columns: is missing: the parameters that each row gives, such as [ to, n ]",
                "columns: [ Route ]                                     | 'Route' is no name of a column",
                "columns: [ include ]                                   | 'include' is no name of a column",
                "columns: [ a ]@@rows: [ { b: 1 } ]                      | rows[0].b: unknown key",
                "from: { }                                              | rows come from one of sql, csv, json",
                "from: { csv: a, json: b }                              | rows come from one of sql, csv, json",
                "from: { csv: a, charset: latin }                       | is no character set; UTF-8, windows-1252 or",
                "from: { csv: a, charset: 'a b' }                       | is no character set; UTF-8, windows-1252 or",
                "from: { json: a, charset: windows-1252 }               | goes with 'csv'",
                "from: { csv: a, matching: x, acts-as: c }              | from.matching: goes with 'files'",
                "from: { csv: a, acts-as: c }                           | from.acts-as: goes with 'sql' or 'request'",
                "from: { sql: select 1 }                                | a query needs a credential",
                "from: { output: a.csv }                                | the job that left the output",
                "from: { csv: \"${route}\" }                            | nothing is known as 'route'",
                "columns: [ a ]@@from: { csv: b }@@rows: [ { a: 1 } ]     | written down or drawn from data, not both",
                "columns: [ a ]@@key: [ b ]                              | 'b' is no column of the roster",
                "columns: [ a ]@@handled: { once: ever }                 | goes with 'key'",
                "columns: [ a ]@@at-once: 65                             | a number from 1 to 64",
                "columns: [ a ]@@after-failure: halt                     | carry-on, stop"
            })
    void isRefused(String rest, String message) {
        assertThatThrownBy(() -> roster(rest.replace("@@", "\n") + "\n"))
                .isInstanceOf(InvalidException.class)
                .hasMessageContaining(message);
    }

    @Test
    @DisplayName("stands in a file beside jobs, whose schedules may run over it without values of their own")
    void standsBesideJobs() {
        Definitions read = DefinitionReader.read(
                """
                task: settle
                team: revenue
                parameters: { route: { type: text } }
                does: { shell: "true" }
                schedules: [ { name: nightly, when: every day at 02:30, zone: UTC, over: routes } ]
                ---
                roster: routes
                team: revenue
                columns: [ route ]
                """);
        assertThat(read.rosters()).hasSize(1);
        assertThat(read.jobs().get(0).job().schedules().get(0).over()).isEqualTo("routes");
        assertThatThrownBy(() -> DefinitionReader.readOne("roster: routes\nteam: t\ncolumns: [ a ]\n"))
                .hasMessageContaining("one job is expected here");
        assertThatThrownBy(() -> DefinitionReader.readRoster("task: t\nteam: t\ndoes: { shell: a }\n"))
                .hasMessageContaining("one roster is expected here");
    }
}
