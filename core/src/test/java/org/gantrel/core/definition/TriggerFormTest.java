package org.gantrel.core.definition;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Duration;
import java.util.List;
import java.util.Set;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.run.RunState;
import org.gantrel.core.trigger.Trigger;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

@DisplayName("A trigger")
class TriggerFormTest {

    private static final String HEAD =
            "task: t\nteam: a\nparameters: { run: { type: number, default: 0 }, key: { type: secret, default: } }\n"
                            .replace(", key: { type: secret, default: }", "")
                    + "does: { command: [ x ] }\ntriggers:\n";

    private static List<Trigger> triggers(String text) {
        return DefinitionReader.readOne(HEAD + text).job().triggers();
    }

    @Test
    @DisplayName("waits for the end of a run or of a step, with values that speak of it")
    void waitsForAnEnd() {
        List<Trigger> triggers = triggers(
                """
                - { name: repair, on: run.ended, of: settle, ends: [ failed, timed-out ], when: "event.exit_code == 75", with: { run: "${event.run}" }, delay: 1 min }
                - { name: then, on: step.ended, of: night, step: report }
                """);
        Trigger repair = triggers.get(0);
        assertThat(repair.ends()).isEqualTo(Set.of(RunState.FAILED, RunState.TIMED_OUT));
        assertThat(repair.delay()).isEqualTo(Duration.ofMinutes(1));
        assertThat(repair.words()).isEqualTo("when settle failed or timed-out and event.exit_code == 75");
        assertThat(repair.isFor("gantrel.run.ended", "settle", "", RunState.FAILED))
                .isTrue();
        assertThat(repair.isFor("gantrel.run.ended", "settle", "", RunState.SUCCEEDED))
                .isFalse();
        assertThat(repair.isFor("gantrel.run.ended", "other", "", RunState.FAILED))
                .isFalse();
        Trigger then = triggers.get(1);
        assertThat(then.words()).isEqualTo("when step report of night ended");
        assertThat(then.isFor("gantrel.step.ended", "night", "report", RunState.SKIPPED))
                .isTrue();
        assertThat(then.isFor("gantrel.step.ended", "night", "settle", RunState.FAILED))
                .isFalse();
        assertThat(then.isFor("gantrel.run.ended", "night", "", RunState.FAILED))
                .isFalse();
    }

    @ParameterizedTest(name = "{0}: {1}")
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "- { name: a, of: b } | is missing: run.ended or step.ended",
                "- { name: a, on: run.endet, of: b } | did you mean 'run.ended'?",
                "- { name: a, on: run.ended } | is missing: the job whose end it waits for",
                "- { name: a, on: step.ended, of: b } | is missing: the step of that chain",
                "- { name: a, on: run.ended, of: b, step: c } | only step.ended has one",
                "- { name: a, on: run.ended, of: t } | would never come to rest",
                "- { name: a, on: run.ended, of: b, ends: [ faild ] } | did you mean 'failed'?",
                "- { name: a, on: run.ended, of: b, with: { runn: 1 } } | did you mean 'run'?",
                "- { name: a, on: run.ended, of: b, with: { run: \"${evnt.run}\" } } | undeclared reference",
                "- { name: a, on: run.ended, of: b, when: event.run } | ",
                "- { name: a, on: run.ended, of: b, when: event.state } | is no condition",
                "- { name: a, on: run.ended, of: b, delay: soon } | a duration",
                "- { name: a, on: run.ended, of: b }\\n- { name: a, on: run.ended, of: c } | is the name of another trigger"
            })
    void isChecked(String text, String message) {
        if (message == null) {
            // what kind of value an event's number is shows only then
            assertThat(triggers(text)).hasSize(1);
            return;
        }
        assertThatThrownBy(() -> triggers(text.replace("\\n", "\n")))
                .isInstanceOfSatisfying(InvalidException.class, e -> assertThat(e.problems())
                        .anySatisfy(problem -> assertThat(problem.message()).contains(message)));
    }
}
