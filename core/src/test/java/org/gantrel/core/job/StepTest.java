package org.gantrel.core.job;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.definition.DefinitionReader;
import org.gantrel.core.job.Step.FollowsOn;
import org.gantrel.core.run.RunState;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

@DisplayName("A step")
class StepTest {

    private static Step step(String text) {
        var chain = (Job.Chain) DefinitionReader.readOne("chain: c\nteam: t\nsteps:\n  - { step: first, job: a }\n"
                        + "  - { step: second, job: b }\n  - { step: it, " + text + " }\n")
                .job();
        return chain.step("it").orElseThrow();
    }

    @ParameterizedTest(name = "{0}: {1}, {2}")
    @CsvSource(
            delimiter = '|',
            value = {
                "job: a | runs a | after second on success",
                "job: a, over: r, after: [] | runs a over r | at once",
                "job: a, go-on: yes, after: first, on: any | runs a and does not wait for it | after first on any",
                "pause: 90 s | waits 1 min 30 s | after second on success",
                "pause: { until: 06:00 } | waits until 06:00 | after second on success",
                "approval: { by: { team: f } } | asks an operator of f | after second on success",
                "approval: { by: { team: f, role: manager }, within: 2 h } | asks a manager of f, within 2 h | after second on success",
                "meeting: m, within: 3 h | waits for another chain at m, at most 3 h | after second on success",
                "meeting: m, within: 3 h, with-chains: [ x, y ] | waits for x and y at m, at most 3 h | after second on success",
                "job: a, matters: no, after: [ first, second ], join: any | runs a; its end does not matter | after first or second on success",
                "job: a, after: [ first, second ], join: 2 | runs a | after first and second on success"
            })
    void isSaidInWords(String text, String does, String links) {
        assertThat(step(text).doesInWords()).isEqualTo(does);
        assertThat(step(text).linksInWords()).isEqualTo(links);
    }

    @Test
    @DisplayName("has rules of its own for its job, and leaves the job as it is where it has none")
    void hasRulesOfItsOwn() {
        var job = (Job.Task)
                DefinitionReader.readOne("task: a\nteam: t\ndoes: { command: [ x ] }\nlanes: [ l ]\npriority: 3\n"
                                + "time-limit: 10 min\n")
                        .job();
        assertThat(step("job: a").own().over(job)).isSameAs(job);
        Step own = step(
                "job: a, acts-as: cred, lanes: { m: 2 }, priority: 8, time-limit: 1 min, retry: { tries: 3, wait: 1 s }");
        var changed = (Job.Task) own.own().over(job);
        assertThat(changed.identity().credential()).isEqualTo("cred");
        assertThat(changed.rules().lanes()).isEqualTo(Map.of("m", 2));
        assertThat(changed.rules().priority()).isEqualTo(8);
        assertThat(changed.timeLimit()).contains(Duration.ofMinutes(1));
        assertThat(changed.rules().retry().tries()).isEqualTo(3);
        var some = (Job.Task) step("job: a, priority: 8").own().over(job);
        assertThat(some.rules().lanes()).isEqualTo(Map.of("l", 1));
        assertThat(some.timeLimit()).isEqualTo(Optional.of(Duration.ofMinutes(10)));
        Job chain = DefinitionReader.readOne("chain: c\nteam: t\nsteps: [ { job: a } ]\n")
                .job();
        assertThat(step("job: c, priority: 9").own().over(chain).rules().priority())
                .isEqualTo(9);
    }

    @Test
    @DisplayName("is followed on the ends that are asked for")
    void isFollowed() {
        assertThat(List.of(RunState.SUCCEEDED, RunState.WARNED, RunState.SKIPPED))
                .allMatch(FollowsOn.SUCCESS::follows)
                .allMatch(FollowsOn.ANY::follows)
                .noneMatch(FollowsOn.FAILURE::follows);
        assertThat(List.of(RunState.FAILED, RunState.TIMED_OUT, RunState.CANCELLED, RunState.MISSED))
                .allMatch(FollowsOn.FAILURE::follows)
                .noneMatch(FollowsOn.SUCCESS::follows)
                .noneMatch(FollowsOn.WARNINGS::follows);
        assertThat(FollowsOn.WARNINGS.follows(RunState.WARNED)).isTrue();
        assertThat(step("pause: 1 min").canEnd(FollowsOn.FAILURE)).isFalse();
        assertThat(step("job: a").canEnd(FollowsOn.WARNINGS)).isTrue();
        assertThat(step("meeting: m, within: 1 h").canEnd(FollowsOn.WARNINGS)).isFalse();
        assertThat(step("meeting: m, within: 1 h, then: go-on").canEnd(FollowsOn.WARNINGS))
                .isTrue();
    }
}
