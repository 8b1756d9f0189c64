package org.gantrel.core.chain;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.gantrel.core.job.Step;
import org.gantrel.core.job.Step.FollowsOn;
import org.gantrel.core.run.RunState;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

@DisplayName("The course of a chain")
class ChainCourseTest {

    private static final List<Step> STEPS = List.of(
            step("settle", FollowsOn.SUCCESS),
            step("report", FollowsOn.SUCCESS, "settle"),
            step("hold", FollowsOn.FAILURE, "settle"),
            step("tidy", FollowsOn.ANY, "report", "hold"));

    private static Step step(String name, FollowsOn on, String... after) {
        return new Step(name, name, List.of(after), on, Map.of());
    }

    private static ChainCourse course(String states) {
        Map<String, RunState> runs = new HashMap<>();
        for (String each : states.split(" ")) {
            if (!each.isEmpty()) {
                String[] pair = each.split("=");
                runs.put(pair[0], RunState.of(pair[1]).orElseThrow());
            }
        }
        return new ChainCourse(STEPS, runs);
    }

    @ParameterizedTest(name = "after [{0}] begins [{1}]")
    @CsvSource(
            delimiter = '|',
            nullValues = "-",
            value = {
                "''                                                | settle",
                "settle=running                                    | ''",
                "settle=succeeded                                  | report",
                "settle=warned                                     | report",
                "settle=failed                                     | hold",
                "settle=timed-out                                  | hold",
                "settle=succeeded report=succeeded                 | tidy",
                "settle=failed hold=running                        | ''",
                "settle=failed hold=succeeded                      | tidy",
                "settle=succeeded report=succeeded tidy=succeeded  | ''"
            })
    void begins(String states, String beginning) {
        assertThat(course(states).beginning().stream().map(Step::name).toList())
                .isEqualTo(beginning.isEmpty() ? List.of() : List.of(beginning));
    }

    @ParameterizedTest(name = "{0} ends it {1}: {2}")
    @CsvSource(
            delimiter = '|',
            value = {
                "settle=succeeded report=succeeded tidy=succeeded | succeeded | all steps ended well",
                "settle=succeeded report=warned tidy=succeeded    | warned    | a step ended with warnings",
                "settle=failed hold=succeeded tidy=succeeded      | warned    | step settle failed, which a later step saw to",
                "settle=failed hold=failed tidy=succeeded         | failed    | step settle failed and step hold failed",
                "settle=succeeded report=cancelled tidy=succeeded | failed    | step report was cancelled"
            })
    void ends(String states, String state, String message) {
        assertThat(course(states).ending()).hasValueSatisfying(ending -> {
            assertThat(ending.state().word()).isEqualTo(state);
            assertThat(ending.message()).isEqualTo(message);
        });
    }

    @Test
    @DisplayName("goes on while a step runs, and what can no longer come true is out of reach")
    void goesOnWhileAStepRuns() {
        assertThat(course("settle=running").ending()).isEmpty();
        assertThat(course("settle=failed hold=running").place(STEPS.get(1))).isEqualTo(ChainCourse.Place.OUT_OF_REACH);
        assertThat(course("settle=running").place(STEPS.get(3))).isEqualTo(ChainCourse.Place.PENDING);
    }
}
