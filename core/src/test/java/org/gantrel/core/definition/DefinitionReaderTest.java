package org.gantrel.core.definition;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.InstanceOfAssertFactories.type;

import java.time.Duration;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Schedule;
import org.gantrel.core.parameter.ParameterType;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.problem.Problem;
import org.gantrel.core.schedule.CatchUp;
import org.gantrel.core.schedule.Shift;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

@DisplayName("A definition file")
class DefinitionReaderTest {

    private static final String SETTLE =
            """
            # settles the day
            task: settle-tickets
            team: revenue
            about: Settles a day's ticket sales
            parameters:
              day:   { type: date, default: "${planned.date - days(1)}", about: the day }
              route: { type: choice, of: [ skarholm, sound ] }
            does:
              command: [ ./settle.sh, --day, "${day}" ]
              in: /srv/settle
              environment: { ROUTE: "${route}" }
            time-limit: PT30M
            exit-codes: { warned: [ 3 ] }
            notify: { failed: [ revenue@example.org ] }
            schedules:
              - { name: nightly, when: every day at 02:30, zone: Europe/Oslo, with: { route: sound } }
            """;

    private static List<Problem> problems(String text) {
        try {
            DefinitionReader.read(text);
            return List.of();
        } catch (InvalidException e) {
            return e.problems();
        }
    }

    @Test
    @DisplayName("describes a task")
    void describesATask() {
        Definition definition = DefinitionReader.readOne(SETTLE);
        assertThat(definition.text()).isEqualTo(SETTLE);
        assertThat(definition.job()).asInstanceOf(type(Job.Task.class)).satisfies(task -> {
            assertThat(task.name()).isEqualTo("settle-tickets");
            assertThat(task.command().orElseThrow().arguments()).containsExactly("./settle.sh", "--day", "${day}");
            assertThat(task.command().orElseThrow().folder()).isEqualTo("/srv/settle");
            assertThat(task.command().orElseThrow().environment()).isEqualTo(Map.of("ROUTE", "${route}"));
            assertThat(task.timeLimit()).contains(Duration.ofMinutes(30));
            assertThat(task.outcome().exit().warned()).isEqualTo(Set.of(3));
            assertThat(task.parameters().named("route").orElseThrow().type()).isEqualTo(ParameterType.CHOICE);
            assertThat(task.schedules().get(0).zone()).isEqualTo(ZoneId.of("Europe/Oslo"));
            assertThat(task.mailOnFailure()).containsExactly("revenue@example.org");
        });
    }

    @Test
    @DisplayName("describes a chain, whose steps follow the one before unless they say otherwise")
    void describesAChain() {
        var chain = (Job.Chain) DefinitionReader.readOne(
                        """
                chain: night-close
                team: revenue
                steps:
                  - { job: settle-tickets }
                  - { step: report, job: report-sales }
                  - { step: hold, job: hold-payout, after: settle-tickets, on: failure }
                  - { step: both, job: clean-up, after: [ report, hold ], on: any }
                  - { step: beside, job: beside, after: [] }
                """)
                .job();
        assertThat(chain.steps())
                .extracting(step -> step.name() + " " + step.linksInWords())
                .containsExactly(
                        "settle-tickets at once",
                        "report after settle-tickets on success",
                        "hold after settle-tickets on failure",
                        "both after report and hold on any",
                        "beside at once");
    }

    @Test
    @DisplayName("may be JSON, and may hold several documents")
    void mayBeJsonAndHoldSeveral() {
        Definitions read = DefinitionReader.read(
                """
                { "task": "a", "team": "t", "does": { "shell": "echo | cat" } }
                ---
                # only a comment
                ---
                task: b
                team: t
                does: { command: [ "true" ] }
                """);
        List<Definition> all = read.jobs();
        assertThat(all).extracting(definition -> definition.job().name()).containsExactly("a", "b");
        assertThat(all).extracting(Definition::line).containsExactly(1, 5);
        assertThat(((Job.Task) all.get(0).job()).command().orElseThrow().arguments())
                .containsExactly("/bin/sh", "-c", "echo | cat");
    }

    @Test
    @DisplayName("with many faults tells all of them at once, each with its line and column")
    void tellsAllFaultsAtOnce() {
        List<Problem> found = problems(
                """
                task: Settle Tickets
                taem: revenue
                parameters:
                  day: { type: dat, default: x }
                  route: { type: choice }
                  n: { type: number, default: twelve }
                  key: { type: secret, default: abc }
                does:
                  comand: [ ./x ]
                time-limit: soon
                exit-codes: { warned: [ 300 ] }
                notify: { failed: [ nobody ] }
                schedules:
                  - { name: a, when: "0 25 * * *", zone: Europe/Olso }
                  - { name: a, when: "0 0 30 2 *", zone: UTC }
                """);
        assertThat(found)
                .extracting(Problem::sentence)
                .contains(
                        "line 2, column 1: taem: unknown key; did you mean 'team'?",
                        "line 1, column 7: task: 'Settle Tickets' is no name: lower-case letters, digits and single"
                                + " dashes, beginning with a letter",
                        "line 4, column 16: parameters.day.type: 'dat' is no type; there are text, number, date, time,"
                                + " date-time, duration, list, path, choice, yes-no, secret; did you mean 'date'?",
                        "line 6, column 31: parameters.n.default: 'twelve' is not a number such as 12 or 0.5",
                        "line 9, column 3: does.comand: unknown key; did you mean 'command'?",
                        "line 10, column 13: time-limit: 'soon': a duration from 1 s to 30 days, such as 90 s, 30 min, 1 h 30 min or"
                                + " 2 days",
                        "line 11, column 23: exit-codes.warned: '300' is no exit code: 0 to 255",
                        "line 14, column 22: schedules[0].when: '0 25 * * *', column 3: hour 25: 0 to 23",
                        "line 15, column 22: schedules[1].when: '0 0 30 2 *' never comes round");
        assertThat(found).extracting(Problem::field).contains("team", "parameters.route.of", "parameters.key.default");
        assertThat(found)
                .filteredOn(problem -> problem.field().equals("schedules[0].zone"))
                .singleElement()
                .satisfies(problem -> assertThat(problem.message())
                        .startsWith("'Europe/Olso' is no time zone")
                        .endsWith("did you mean 'Europe/Oslo'?"));
    }

    @ParameterizedTest(name = "{0}")
    @CsvSource(
            delimiter = '|',
            value = {
                "task: [ a                            | 2 | not YAML",
                "just words                           | 1 | a mapping (key: value) is expected here",
                "job: x                               | 1 | the first key says what is defined: 'task', 'chain', 'calendar', 'roster', 'lane', 'notification', 'duty', 'channel', 'digest' or 'wording'",
                "task: a\\nteam: t\\ntask: b           | 3 | is given twice",
                "task: a\\nteam: t\\ndoes: { command: ls -l } | 3 | a list is expected",
                "task: a\\nteam: t\\ndoes: { command: [ x, '${nobody}' ] } | 3 | nothing is known as 'nobody'",
                "task: a\\nteam: t\\ndoes: { command: [ x, '${open' ] } | 3 | is not closed",
                "task: a\\nteam: t\\ndoes: { command: [ x ] }\\nparameters: { k: { type: secret } }\\nschedules: [ { name: n, when: every day at 01:00, zone: UTC, with: { k: x } } ] | 5 | is a secret, which a definition cannot hold",
                "chain: c\\nteam: t\\nsteps: [ { job: a, after: b } ] | 3 | is no step of this chain; there is no other step",
                "chain: c\\nteam: t\\nsteps: [ { job: a }, { job: a } ] | 3 | is the name of an earlier step"
            })
    void saysWhatIsWrong(String text, int line, String message) {
        assertThat(problems(text.replace("\\n", "\n"))).anySatisfy(problem -> {
            assertThat(problem.line()).isEqualTo(line);
            assertThat(problem.message()).contains(message);
        });
    }

    @Test
    @DisplayName("that is endless or nests without end is refused with its limit")
    void refusesTheEndless() {
        assertThat(problems("x".repeat(1_000_001)))
                .extracting(Problem::message)
                .containsExactly("too long: 1000001 characters, at most 1000000");
        assertThat(problems("task: " + "a".repeat(10_000) + "\nteam: t\ndoes: { command: [ x ] }"))
                .extracting(Problem::message)
                .containsExactly("too long: 10000 characters, at most 60");
        assertThat(problems("")).hasSize(1);
        assertThatThrownBy(() -> DefinitionReader.readOne(SETTLE + "---\n" + SETTLE.replace("settle-t", "x-t")))
                .hasMessageContaining("one job is expected here, and there are 2");
        assertThat(problems(SETTLE + "---\n" + SETTLE))
                .extracting(Problem::message)
                .containsExactly("the job settle-tickets is defined already at line 1");
    }

    @Test
    @DisplayName("says of a schedule which days it keeps to, where it starts in its window, and what it makes up for")
    void readsSchedules() {
        Schedule schedule = DefinitionReader.readOne(
                        """
                        task: close
                        team: finance
                        does: { command: [ "true" ] }
                        schedules:
                          - name: month-end
                            when: last working day of every month at 17:00
                            zone: Europe/Oslo
                            calendar: bank-days
                            except: dry-dock-weeks
                            shift: modified-following
                            window: PT30M
                            from: 2026-12-01
                            until: 2027-12-31
                            missed: { run: latest, within: PT6H }
                        """)
                .job()
                .schedules()
                .get(0);
        assertThat(schedule.days())
                .isEqualTo(new Schedule.Days("bank-days", "dry-dock-weeks", Shift.MODIFIED_FOLLOWING));
        assertThat(schedule.window()).hasMinutes(30);
        assertThat(schedule.from()).contains(LocalDate.of(2026, 12, 1));
        assertThat(schedule.until()).contains(LocalDate.of(2027, 12, 31));
        assertThat(schedule.catchUp()).isEqualTo(new CatchUp(CatchUp.Policy.LATEST, Duration.ofHours(6)));
    }

    @ParameterizedTest(name = "{0}: {1}")
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '~',
            value = {
                "shift: later, calendar: a           | 'later': skip, following, preceding, modified-following, nearest",
                "shift: following                    | goes with 'calendar' or 'except'",
                "window: half an hour                | 'half an hour': a duration from 1 s to 24 h",
                "window: PT48H                       | 'PT48H': a duration from 1 s to 24 h",
                "from: 2026-13-01                    | '2026-13-01': a date such as 2026-12-24 is expected",
                "from: 2027-01-02, until: 2027-01-01 | 2027-01-01 is before 2027-01-02, its first day",
                "missed: { run: all }                | 'all': none, latest, each",
                "missed: { runs: each }              | unknown key; did you mean 'run'?",
                "calender: a                         | unknown key; did you mean 'calendar'?"
            })
    @DisplayName("says what is wrong with a schedule")
    void saysWhatIsWrongWithASchedule(String keys, String message) {
        String text = "task: a\nteam: t\ndoes: { command: [ x ] }\nschedules: [ { name: n, when: every day at 05:00,"
                + " zone: UTC, " + keys.strip() + " } ]\n";
        assertThat(problems(text)).anySatisfy(problem -> {
            assertThat(problem.line()).isEqualTo(4);
            assertThat(problem.message()).contains(message);
        });
    }

    @ParameterizedTest(name = "{0}: {1}")
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '~',
            value = {
                "FREQ=WEEKLY;BYDAY=MO | the rule needs its start: DTSTART:20261123T090000 before RRULE:FREQ=WEEKLY;BYDAY=MO",
                "DTSTART;TZID=Europe/Oslo:20261123T090000 RRULE:FREQ=DAILY | the rule is meant in Europe/Oslo, and the schedule in UTC",
                "day 31 of April at 05:00 | never comes round",
                "every 5 minuts | column 9: 'minuts'"
            })
    @DisplayName("takes no rule that could not be kept")
    void takesNoRuleThatCouldNotBeKept(String when, String message) {
        String text = "task: a\nteam: t\ndoes: { command: [ x ] }\nschedules: [ { name: n, when: \"" + when.strip()
                + "\", zone: UTC } ]\n";
        assertThat(problems(text))
                .anySatisfy(problem -> assertThat(problem.message()).contains(message));
    }

    @ParameterizedTest(name = "{0}")
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '^',
            value = {
                "json: &a [ *a ] | the alias stands within what it stands for",
                "json: &a { b: { c: *a } } | the alias stands within what it stands for",
                "headers: { A: null } | does.headers.A: null is no value here",
                "patience: ~ | does.patience: ~ is no value here",
                "save-to: 'null' | ",
                "json: { a: null, b: [ ~ ], c: &c [ 1, 2 ], d: *c } | ",
            })
    @DisplayName("takes neither what holds itself nor a value that is nothing, but in a payload")
    void holdsItself(String line, String message) {
        List<Problem> problems =
                problems("task: a\nteam: t\ndoes: { request: \"http://k.example.org\", " + line + " }\n");
        if (message == null) {
            assertThat(problems).isEmpty();
        } else {
            assertThat(problems)
                    .anySatisfy(problem -> assertThat(problem.sentence()).contains(message));
        }
    }

    @Test
    @DisplayName("takes no aliases of a long text that make a very large one")
    void repeats() {
        String text = "task: a\nteam: t\ndoes:\n  request: http://k.example.org\n  json:\n    a: &a "
                + "x".repeat(9_000) + "\n    b: [ " + "*a , ".repeat(200) + "1 ]\n";
        assertThat(problems(text)).singleElement().satisfies(problem -> assertThat(problem.message())
                .contains("the aliases stand for more than"));
        assertThat(problems(text.replace("*a , ".repeat(200), "*a , "))).isEmpty();
    }

    @Test
    @DisplayName("takes no aliases that make a short text a very large one")
    void multiplies() {
        String many = "1, ".repeat(20_000);
        String text = "task: a\nteam: t\ndoes:\n  request: http://k.example.org\n  json:\n    a: &a [ " + many
                + "1 ]\n    b: &b [ *a, *a ]\n    c: &c [ *b, *b ]\n    d: [ *c, *c, *c ]\n";
        assertThat(problems(text)).singleElement().satisfies(problem -> assertThat(problem.sentence())
                .startsWith("line 8, column ")
                .contains("the aliases stand for more than 50000 parts together"));
    }
}
