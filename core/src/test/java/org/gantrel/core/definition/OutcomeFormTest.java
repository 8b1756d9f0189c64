package org.gantrel.core.definition;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Duration;
import java.util.Set;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Outputs;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.run.OutcomeRule;
import org.gantrel.core.run.OutcomeRule.ErrorStream;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

@DisplayName("What a task counts as a failure, and what it keeps,")
class OutcomeFormTest {

    private static Job.Task task(String rest) {
        return (Job.Task) DefinitionReader.readOne("task: t\nteam: revenue\ndoes: { shell: make }\n" + rest)
                .job();
    }

    @Test
    @DisplayName("is safe where nothing is said: any code but 0 fails, output alone means nothing, nothing is kept")
    void isSafe() {
        Job.Task task = task("");
        assertThat(task.outcome()).isEqualTo(OutcomeRule.USUAL);
        assertThat(task.outcome().readsOutput()).isFalse();
        assertThat(task.outputs()).isEqualTo(Outputs.NONE);
        assertThat(task.identity()).isEqualTo(Job.Identity.OWN);
        assertThat(task.credentials()).isEmpty();
    }

    @Test
    @DisplayName("may be said part by part")
    void mayBeSaid() {
        Job.Task task = task(
                """
                exit-codes: { succeeded: [ 0, 4 ], warned: [ 3 ] }
                outcome: { warned-by: [ "slow", "late" ], error-stream: failed }
                outputs: [ { file: out/a.csv }, { file: "reports/", at-most: 2kB }, { file: x, name: y } ]
                keep-outputs: P7D
                """);
        assertThat(task.outcome().exit().succeeded()).isEqualTo(Set.of(0, 4));
        assertThat(task.outcome().warnedBy()).extracting(Object::toString).containsExactly("slow", "late");
        assertThat(task.outcome().errorStream()).isEqualTo(ErrorStream.FAILED);
        assertThat(task.outcome().readsOutput()).isTrue();
        assertThat(task.outputs().files())
                .extracting(Outputs.Output::name, Outputs.Output::atMost)
                .containsExactly(
                        org.assertj.core.groups.Tuple.tuple("a.csv", Outputs.USUAL_SIZE),
                        org.assertj.core.groups.Tuple.tuple("reports/", 2_000L),
                        org.assertj.core.groups.Tuple.tuple("y", Outputs.USUAL_SIZE));
        assertThat(task.outputs().keep()).contains(Duration.ofDays(7));
    }

    @ParameterizedTest(name = "{0}: {1}")
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '~',
            value = {
                "outcome: { failed-by: [ '(' ] }                 | '(' is no regular expression",
                "outcome: { error-stream: loud }                 | allowed, warned, failed",
                "outcome: { eror-stream: failed }                | did you mean 'error-stream'?",
                "exit-codes: { succeeded: [ 3 ], warned: [ 3 ] } | 3 cannot mean success and a warning",
                "outputs: [ { name: a } ]                        | the file or folder, from the working folder",
                "outputs: [ { file: '${nobody}' } ]              | nothing is known as 'nobody'",
                "outputs: [ { file: out/../../a } ]              | 'out/../../a' leaves the working folder",
                "outputs: [ { file: a, at-most: lots } ]         | a size such as 500kB",
                "keep-outputs: forever                           | a duration from 1 s to",
                "acts-as: Some Body                              | is no name"
            })
    void isRefused(String rest, String message) {
        assertThatThrownBy(() -> task(rest + "\n"))
                .isInstanceOf(InvalidException.class)
                .hasMessageContaining(message);
    }

    @Test
    @DisplayName("belongs to commands: other work has its own rule")
    void belongsToCommands() {
        assertThatThrownBy(() -> DefinitionReader.readOne("task: t\nteam: a\ndoes: { sql: select 1 }\nraised: yes\n"
                        + "exit-codes: { warned: [ 3 ] }\noutcome: { error-stream: failed }\n"))
                .isInstanceOfSatisfying(InvalidException.class, e -> assertThat(e.problems())
                        .extracting(problem -> problem.field() + " " + problem.message())
                        .containsExactlyInAnyOrder(
                                "raised only a command can be raised",
                                "exit-codes only a command has it",
                                "outcome only a command has it"));
    }
}
