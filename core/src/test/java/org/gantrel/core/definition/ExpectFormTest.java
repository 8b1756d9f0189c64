package org.gantrel.core.definition;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.gantrel.core.action.Outside;
import org.gantrel.core.gate.Gate;
import org.gantrel.core.gate.Gates;
import org.gantrel.core.job.Expect;
import org.gantrel.core.job.Job;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.run.RunState;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

@DisplayName("What a job expects, and work that others do")
class ExpectFormTest {

    private static Job.Task task(String more) {
        return (Job.Task) DefinitionReader.readOne("task: t\nteam: a\n" + more).job();
    }

    @Test
    @DisplayName("says what has to come how often")
    void saysWhat() {
        Expect expect =
                task("""
                        does: { command: [ x ] }
                        schedules: [ { name: s, when: every day at 02:00, zone: UTC } ]
                        expect:
                          good-within: 26 h
                          starts-within: 10 min
                          coming-start: yes
                          arrivals: { under: /srv/tides, matching: "*.csv", within: 2 days }
                        """)
                        .rules()
                        .expect();
        assertThat(expect.words())
                .containsExactly(
                        "a good end at least every 26 h",
                        "a start within 10 min of the planned time",
                        "a coming start",
                        "something that comes as *.csv in /srv/tides at least every 2 days");
        Instant last = Instant.parse("2026-11-26T00:00:00Z");
        assertThat(expect.silentAt(last)).contains(last.plus(Duration.ofHours(26)));
        assertThat(task("does: { command: [ x ] }\n").rules().expect().isNothing())
                .isTrue();
        assertThat(Expect.NOTHING.silentAt(last)).isEmpty();
    }

    @Test
    @DisplayName("waits for the start of work that others do, and is missed where nobody tells of it")
    void waitsForStart() {
        Job.Task task = task("does: { outside: { start-within: 20 min } }\n");
        assertThat(task.action()).isEqualTo(new Outside(Duration.ofMinutes(20)));
        assertThat(task("does: outside\n").action()).isEqualTo(new Outside(Outside.USUALLY_WITHIN));
        Gates gates = task.rules().gates();
        assertThat(gates.all()).containsExactly(new Gate.ToldStart());
        Instant due = Instant.parse("2026-11-26T02:10:00Z");
        var shut = List.of(new Gates.Look(false, "nobody has yet"));
        assertThat(gates.decide(shut, due, due.plusSeconds(60))).isInstanceOf(Gates.Verdict.Wait.class);
        assertThat(gates.decide(shut, due, due.plusSeconds(1_200)))
                .isInstanceOfSatisfying(Gates.Verdict.GiveUp.class, over -> {
                    assertThat(over.ending().state()).isEqualTo(RunState.MISSED);
                    assertThat(over.ending().message()).isEqualTo("nobody told of its start within 20 min");
                });
        assertThat(gates.decide(List.of(new Gates.Look(true, "")), due, due)).isEqualTo(new Gates.Verdict.Open());
        assertThat(Optional.of(task.action().kind())).contains("outside");
    }

    @ParameterizedTest(name = "{0}: {1}")
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "expect: {} | says nothing",
                "expect: { good-within: soon } | a duration",
                "expect: { good-withn: 1 h } | did you mean 'good-within'?",
                "expect: { coming-start: yes } | the job has no schedule",
                "expect: { arrivals: { within: 1 h } } | is missing: the full path",
                "expect: { arrivals: { under: /srv } } | is missing: how often",
                "expect: { arrivals: { under: /srv/../etc, within: 1 h } } | is no full path"
            })
    void isChecked(String more, String message) {
        assertThatThrownBy(() -> task("does: { command: [ x ] }\n" + more + "\n"))
                .isInstanceOfSatisfying(InvalidException.class, e -> assertThat(e.problems())
                        .anySatisfy(problem -> assertThat(problem.message()).contains(message)));
    }

    @ParameterizedTest(name = "{0}: {1}")
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "does: outside\\nlanes: [ x ] | has no place here",
                "does: outside\\nacts-as: x | has no place here",
                "does: outside\\ngates: [ { file: /x } ] | has no place here",
                "does: { outside: { start-within: 0 s } } | a duration",
                "does: { outside: { start: 1 h } } | unknown key",
                "does: inside | a mapping"
            })
    void outsideIsChecked(String text, String message) {
        assertThatThrownBy(() -> task(text.replace("\\n", "\n") + "\n"))
                .isInstanceOfSatisfying(InvalidException.class, e -> assertThat(e.problems())
                        .anySatisfy(problem -> assertThat(problem.message()).contains(message)));
    }
}
