package org.gantrel.core.definition;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.math.BigDecimal;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.gantrel.core.expression.PlannedTime;
import org.gantrel.core.gate.Gate;
import org.gantrel.core.job.Rules;
import org.gantrel.core.job.Schedule.Deadline;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.run.Overlap;
import org.gantrel.core.run.RunState;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

@DisplayName("A definition that says how its runs go with nobody watching")
class UnattendedFormTest {

    private static final String TASK =
            """
            task: plan-crew
            team: timetable
            parameters: { route: { type: text, default: sound }, key: { type: secret } }
            does: { command: [ ./plan.sh ] }
            """;

    private static final String PLAIN = TASK.replace(", key: { type: secret }", "");

    private static Rules rules(String more) {
        return DefinitionReader.readOne(PLAIN + more).job().rules();
    }

    @Test
    @DisplayName("that says nothing waits, takes no lane, and is tried once")
    void saysNothing() {
        assertThat(rules("")).isEqualTo(Rules.NONE);
    }

    @ParameterizedTest(name = "{0}: {1}")
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '~',
            value = {
                "/tides/*.csv | true",
                "/tides/${route}-?.csv | true",
                "/ti*des/today.csv | false",
                "/tides/[1].csv | false",
                "/tides/${route == '*' ? 'a' : 'b'} | false"
            })
    @DisplayName("has a gate for a glob where the name of its file is written as one")
    void globs(String path, boolean glob) {
        assertThat(rules("gates: [ { file: \"" + path + "\" } ]\n").gates().all())
                .containsExactly(new Gate.FileThere(path, Duration.ZERO, "", glob));
    }

    @Test
    @DisplayName("is read with all that it says")
    void saysAll() {
        Rules rules = rules(
                """
                while-running: 3
                apart-by: [ route ]
                lanes: { planning: 2, yard: 1 }
                priority: 7
                gates:
                  - { file: "/srv/tides/${route}.csv", settled: 1 min }
                  - { free: 5 GB, under: /srv/plan, host: far }
                  - { load: 1.5, during: 5 min }
                  - { request: "http://kiosk.example.org/", contains: selling }
                  - { between: "22:00", and: "05:30" }
                  - { calendar: bank-days }
                  - { job: build-sailings, ended: any, since: 12 h }
                  - { when: "route == 'sound'" }
                gate-patience: { look-every: 10 s, for: 1 h, then: fail }
                total-limit: 4 h
                stop-at: "05:30"
                stop-patience: 1 min
                long-after: 45 min
                retry: { tries: 4, wait: 2 min, growth: 1.5, longest: 10 min, after: [ failed ], exit-codes: [ 75 ] }
                """);
        assertThat(rules.overlap()).isEqualTo(new Overlap(Overlap.Mode.WAIT, 3, List.of("route")));
        assertThat(rules.overlap().crowd("plan-crew", Map.of("route", "sound")).text())
                .isEqualTo("plan-crew with route sound");
        assertThat(rules.lanes()).isEqualTo(Map.of("planning", 2, "yard", 1));
        assertThat(rules.priority()).isEqualTo(7);
        assertThat(rules.gates().all())
                .contains(
                        new Gate.FileThere("/srv/tides/${route}.csv", Duration.ofMinutes(1), ""),
                        new Gate.FreeSpace(5_000_000_000L, "/srv/plan", "far"),
                        new Gate.Load(new BigDecimal("1.5"), Duration.ofMinutes(5), ""),
                        new Gate.Between(LocalTime.of(22, 0), LocalTime.of(5, 30)),
                        new Gate.InCalendar("bank-days"),
                        new Gate.JobEnded("build-sailings", false, Optional.of(Duration.ofHours(12))),
                        new Gate.Holds("route == 'sound'"))
                .hasSize(8);
        assertThat(rules.gates().skips()).isFalse();
        assertThat(rules.gates().patience()).isEqualTo(Duration.ofHours(1));
        assertThat(rules.limits().stopAt()).contains(LocalTime.of(5, 30));
        assertThat(rules.limits().patience()).contains(Duration.ofMinutes(1));
        assertThat(rules.retry().tries()).isEqualTo(4);
        assertThat(rules.retry().after()).isEqualTo(Set.of(RunState.FAILED));
        assertThat(rules.retry().codes()).isEqualTo(Set.of(75));
    }

    @ParameterizedTest(name = "{0}")
    @DisplayName("that contradicts itself is refused, with what would be right")
    @CsvSource(
            delimiter = '|',
            value = {
                "while-running: 0 | wait, skip, replace, or how many",
                "apart-by: [ rout ] | did you mean 'route'?",
                "apart-by: [ key ] | is a secret",
                "lanes: [ a, { b: 2 } ] | a list holds names alone",
                "lanes: [ a, a ] | { a: 2 } takes two places",
                "lanes: { a: 0 } | a whole number from 1",
                "lanes: [ Not-A-Name ] | is no name of a lane",
                "priority: high | a whole number from 1 to 9",
                "gates: [ { } ] | a gate asks for one thing",
                "gates: [ { file: a, job: b } ] | here are file and job",
                "gates: [ { sql: select 1 } ] | what is expected of its value is missing",
                "gates: [ { sql: select 1, acts-as: c, equals: 1, expect: 200 } ] | goes with 'request'",
                "gates: [ { between: '05:00', and: '05:00' } ] | would always be shut",
                "gates: [ { load: much } ] | such as 1.5",
                "gates: [ { load: 0.0 } ] | would always be shut",
                "gates: [ { load: 1, during: 3 h } ]; gate-patience: { for: 2 h } | cannot have been low for 3 h",
                "gates: [ { free: 0 GB, under: /srv } ] | would never be shut",
                "gates: [ { free: 1 GB, under: srv } ] | srv' is no full path",
                "gates: [ { file: tides/today.csv } ] | is no full path; one begins with /",
                "gates: [ { file: '/tides/[*.csv' } ] | the '[' is not closed",
                "gates: [ { file: '/tides/{a,b}*', host: far } ] | two gates would say both",
                "time-limit: 1 h; long-after: 1 h | it is stopped after 1 h already",
                "gates: [ { when: 'rout == 1' } ] | column 1",
                "gate-patience: { for: 1 h } | there is nothing to wait for",
                "retry: { tries: 1 } | a whole number from 2 to 100",
                "retry: { tries: 3, growth: 0.5 } | a number from 1 to 10",
                "retry: { tries: 3, wait: 1 h, longest: 1 min } | is shorter than the first wait",
                "retry: { tries: 3, after: [ succeeded ] } | failed, timed-out, warned",
                "retry: { tries: 3, exit-codes: [ 300 ] } | is no exit code",
                "retry: { tries: 3, messages: [ '(x{1000}){2}', 'y{1000}' ] } | at most 2500 can be looked for at each end",
                "total-limit: 1 min; retry: { tries: 3, wait: 5 min } | no second try can come",
                "stop-at: noon | a local time such as",
                "schedules: [ { name: s, when: every day at 06:00, zone: UTC, deadline: soon } ] | a local time such as",
                "schedules: [ { name: s, when: every day at 06:00, zone: UTC, deadline: '06:00' } ] | say how long"
            })
    void isRefused(String more, String why) {
        assertThatThrownBy(() -> DefinitionReader.readOne(TASK + more.replace("; ", "\n")))
                .isInstanceOfSatisfying(InvalidException.class, refused -> assertThat(refused.problems())
                        .anySatisfy(problem -> assertThat(problem.message()).contains(why)));
    }

    @Test
    @DisplayName("has deadlines by the clock or by length, over summer time too")
    void deadlines() {
        String schedule = "schedules: [ { name: s, when: every day at 01:00, zone: Europe/Oslo, deadline: %s } ]\n";
        Deadline byClock = DefinitionReader.readOne(PLAIN + schedule.formatted("\"05:30\""))
                .job()
                .schedules()
                .get(0)
                .deadline()
                .orElseThrow();
        var spring = new PlannedTime(Instant.parse("2027-03-28T00:00:00Z"), ZoneId.of("Europe/Oslo"));
        assertThat(byClock.of(spring)).isEqualTo("2027-03-28T03:30:00Z");
        Deadline byLength = DefinitionReader.readOne(PLAIN + schedule.formatted("4 h"))
                .job()
                .schedules()
                .get(0)
                .deadline()
                .orElseThrow();
        assertThat(byLength.of(spring)).isEqualTo("2027-03-28T04:00:00Z");
    }

    @Test
    @DisplayName("may be a lane")
    void lane() {
        LaneDefinition lane =
                DefinitionReader.readLane("lane: planning\nteam: timetable\nwidth: 2\nfor-teams: [ fleet ]\n");
        assertThat(lane.lane().isFor("fleet")).isTrue();
        assertThat(lane.lane().isFor("finance")).isFalse();
        assertThatThrownBy(() -> DefinitionReader.readLane("lane: planning\nteam: timetable\n"))
                .hasMessageContaining("how many places");
        assertThatThrownBy(() -> DefinitionReader.readLane(PLAIN)).hasMessageContaining("one lane is expected");
    }
}
