package org.gantrel.core.chain;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.stream.IntStream;
import org.gantrel.core.job.Step;
import org.gantrel.core.job.Step.FollowsOn;
import org.gantrel.core.run.Ending;
import org.gantrel.core.run.RunState;
import org.gantrel.core.run.RunStatus.Stop;
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
        return Step.of(name, name, List.of(after), on, Map.of());
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
        assertThat(course("settle=failed hold=running").place(STEPS.get(1))).isEqualTo(StepNow.Place.OUT_OF_REACH);
        assertThat(course("settle=running").place(STEPS.get(3))).isEqualTo(StepNow.Place.PENDING);
    }

    @Test
    @DisplayName("begins nothing once it is being stopped, and ends with the last of its steps")
    void stops() {
        var cancelled = new Stop(Stop.Why.CANCEL, "mara");
        var going = new ChainCourse(STEPS, Map.of("settle", RunState.RUNNING), cancelled);
        assertThat(going.beginning()).isEmpty();
        assertThat(going.ending()).isEmpty();
        assertThat(new ChainCourse(STEPS, Map.of("settle", RunState.FAILED), cancelled).ending())
                .contains(new Ending(RunState.CANCELLED, "cancelled by mara"));
    }

    @Test
    @DisplayName("agrees in any chain with a model that asks each step anew, and looks at each link once")
    void agreesWithTheModel() {
        var random = new Random(7);
        for (int round = 0; round < 1_000; round++) {
            List<Step> steps = new ArrayList<>();
            for (int i = 0; i < random.nextInt(1, 9); i++) {
                List<String> after = new ArrayList<>();
                for (int j = 0; j < i; j++) {
                    if (random.nextInt(3) == 0) {
                        after.add("s" + j);
                    }
                }
                steps.add(step("s" + i, FollowsOn.values()[random.nextInt(3)], after.toArray(String[]::new)));
            }
            Map<String, RunState> runs = new HashMap<>();
            var course = new ChainCourse(steps, runs);
            while (course.ending().isEmpty()) {
                for (Step step : steps) {
                    assertThat(course.beginning().contains(step)).isEqualTo(begins(step, steps, runs));
                }
                course.beginning().forEach(step -> runs.put(step.name(), RunState.RUNNING));
                List<String> going = runs.keySet().stream()
                        .filter(name -> !runs.get(name).isEnded())
                        .toList();
                assertThat(going).isNotEmpty();
                runs.put(
                        going.get(random.nextInt(going.size())),
                        random.nextBoolean() ? RunState.SUCCEEDED : RunState.FAILED);
                course = new ChainCourse(steps, runs);
            }
        }
        // ten wide, a hundred deep, all joined: what asked each step anew would not come to an end
        List<Step> wide = new ArrayList<>();
        for (int i = 0; i < 1_000; i++) {
            int layer = i / 10;
            wide.add(step(
                    "s" + i,
                    FollowsOn.SUCCESS,
                    layer == 0
                            ? new String[0]
                            : IntStream.range(layer * 10 - 10, layer * 10)
                                    .mapToObj(j -> "s" + j)
                                    .toArray(String[]::new)));
        }
        assertThat(new ChainCourse(wide, Map.of()).beginning()).hasSize(10);
    }

    private static boolean begins(Step step, List<Step> steps, Map<String, RunState> runs) {
        return !runs.containsKey(step.name())
                && step.after().stream().allMatch(name -> {
                    RunState state = runs.get(name);
                    if (state == null) {
                        return on(step) == FollowsOn.ANY && isOut(named(name, steps), steps, runs);
                    }
                    return state.isEnded()
                            && (on(step) == FollowsOn.ANY || (on(step) == FollowsOn.SUCCESS) == state.isGood());
                });
    }

    private static boolean isOut(Step step, List<Step> steps, Map<String, RunState> runs) {
        return !runs.containsKey(step.name())
                && on(step) != FollowsOn.ANY
                && step.after().stream().anyMatch(name -> {
                    RunState state = runs.get(name);
                    return state == null
                            ? isOut(named(name, steps), steps, runs)
                            : state.isEnded() && (on(step) == FollowsOn.SUCCESS) != state.isGood();
                });
    }

    private static Step named(String name, List<Step> steps) {
        return steps.stream()
                .filter(step -> step.name().equals(name))
                .findFirst()
                .orElseThrow();
    }

    private static FollowsOn on(Step step) {
        return step.links().isEmpty() ? FollowsOn.SUCCESS : step.links().get(0).on();
    }
}
