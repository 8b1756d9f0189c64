package org.gantrel.core.chain;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalTime;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.access.Role;
import org.gantrel.core.definition.DefinitionReader;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Step;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.run.RunState;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

@DisplayName("The definition of a chain")
class ChainDefinitionTest {

    private static final String HEAD = "chain: c\nteam: t\nparameters: { day: { type: date } }\nsteps:\n";

    private static List<Step> steps(String text) {
        return ((Job.Chain) DefinitionReader.readOne(HEAD + text).job()).steps();
    }

    @Test
    @DisplayName("joins jobs, sweeps, pauses, approvals and meetings by links of every kind")
    void joinsAll() {
        List<Step> steps = steps(
                """
                - { step: settle, job: settle-tickets, over: routes, with: { day: "${day}" } }
                - { step: rest, pause: 30 min }
                - { step: dawn, pause: { until: "06:00" }, after: [] }
                - { step: report, job: report-sales, after: settle, when: "settle.values.total > 0" }
                - { step: hold, job: hold-payout, after: [ { step: settle, on: failure }, { step: rest, on: any } ] }
                - { step: sheet, job: sales-sheet, after: [ report, hold ], join: any, matters: no }
                - { step: bank-is-done, meeting: bank-is-done, of: "${day}", with-chains: [ bank ], within: 3 h, then: go-on }
                - { step: sign, approval: { by: { team: finance, role: manager }, within: 2 h, asks: "Pay ${settle.values.total}?", tells: [ bank@lowmarsh.example.org ] } }
                - { step: archive, job: archive, go-on: yes, priority: 7, time-limit: 5 min }
                - { step: check, job: check, after: archive, repeat: { until: "check.values.open == 0", times: 5, every: 2 min } }
                finally:
                - { step: tidy, job: tidy-up, with: { how: "${settle.state}" } }
                - { step: told, job: tell }
                """);
        assertThat(steps)
                .extracting(step -> step.kind() + " " + step.name() + " " + step.linksInWords())
                .containsExactly(
                        "sweep settle at once",
                        "pause rest after settle on success",
                        "pause dawn at once",
                        "job report after settle on success, where settle.values.total > 0",
                        "job hold after settle on failure and rest on any",
                        "job sheet after report or hold on success",
                        "meeting bank-is-done after sheet on success",
                        "approval sign after bank-is-done on success",
                        "job archive after sign on success",
                        "job check after archive on success",
                        "job tidy at the end",
                        "job told after tidy on any");
        assertThat(steps.get(1).work())
                .isEqualTo(new Step.Pause(Optional.of(Duration.ofMinutes(30)), Optional.empty()));
        assertThat(steps.get(2).work()).isEqualTo(new Step.Pause(Optional.empty(), Optional.of(LocalTime.of(6, 0))));
        assertThat(steps.get(6).work())
                .isEqualTo(new Step.Meeting("bank-is-done", "${day}", List.of("bank"), Duration.ofHours(3), true));
        assertThat(steps.get(7).work())
                .isEqualTo(new Step.Approval(
                        "finance",
                        Role.MANAGER,
                        Optional.of(Duration.ofHours(2)),
                        false,
                        "Pay ${settle.values.total}?",
                        false,
                        List.of("bank@lowmarsh.example.org")));
        assertThat(steps.get(8).goesOn()).isTrue();
        assertThat(steps.get(8).own().priority()).contains(7);
        assertThat(steps.get(5).matters()).isFalse();
        assertThat(steps.get(9).until().orElseThrow().times()).isEqualTo(5);
        assertThat(steps.get(10).last()).isTrue();
    }

    @Test
    @DisplayName("hands on the rows of an earlier sweep, of that one's roster, and outputs as files")
    void handsOn() {
        List<Step> steps = steps(
                """
                - { step: settle, job: settle-tickets, over: routes }
                - { step: wrong, job: look, over: { rows-of: settle, that: failed }, on: any }
                - { step: again, job: look, over: { rows-of: wrong }, files: { SALES: "sheet:out/of today.csv" }, after: [ wrong, sheet ] }
                - { step: sheet, job: sheet, after: [] }
                """);
        assertThat(steps.subList(0, 3)).extracting(Step::over).containsOnly("routes");
        assertThat(steps.get(1).rowsOf()).contains(new Step.RowsOf("settle", Step.Which.FAILED));
        assertThat(steps.get(1).doesInWords()).isEqualTo("runs look over the failed rows of settle");
        assertThat(steps.get(2).files()).containsEntry("SALES", new Step.OutputOf("sheet", "out/of today.csv"));
    }

    @ParameterizedTest(name = "{0}: {1}")
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "- { job: a, after: b }\\n- { job: b, after: a } | in a circle: b, then a, then b again",
                "- { job: a, after: a } | cannot follow itself",
                "- { job: a }\\n- { job: b, after: [ a, a ] } | 'a' is named twice",
                "- { job: a }\\n- { job: b, join: 3 } | 3 links have to hold, and there are only 1",
                "- { job: a, join: any } | follows none",
                "- { job: a }\\n- { job: b, join: some } | all, any, or how many",
                "- { step: p, pause: 1 min }\\n- { job: b, on: failure } | never holds: p, a pause, does not end in failure",
                "- { job: a, go-on: yes }\\n- { job: b, on: warnings } | never holds: a, a step that is not waited for",
                "- { job: a }\\n- { job: b }\\n- { job: c, after: a, on: failure }\\n- { job: d, after: [ b, c ] } | can never be met: b and c never come together",
                "- { job: a }\\n- { job: b, after: [ a, { step: a, on: failure } ] } | can never be met",
                "- { job: a, after: z }\\nfinally:\\n- { step: z, job: b } | under finally",
                "- { job: a, when: \"a.values.n > 0\" } | a does not come before this step",
                "- { job: a }\\n- { job: b, when: \"a.values.n\", with: { x: \"${c.state}\" } } | nothing is known as 'c'",
                "- { job: a }\\n- { job: b, when: \"a.state\" } | is no condition",
                "- { job: a }\\n- { job: b, when: \"${a.state == 'failed'}\" } | is written without ${ and }",
                "- { job: a, pause: 1 min } | a step does one thing: job and pause are two steps",
                "- { pause: 1 min } | is missing: the name of the step",
                "- { step: p, pause: 1 min, with: { x: y } } | only a step that runs a job has it",
                "- { step: s, approval: { by: { team: f, role: boss } } } | 'boss' is no role",
                "- { step: s, approval: { within: 2 h } } | is missing: who may say",
                "- { meeting: m } | is missing: how long it waits",
                "- { job: a, repeat: { until: \"a.values.n == 0\" } } | is missing: how often it is done at most",
                "- { job: a, over: r }\\n- { job: b, over: { rows-of: c } } | there is no step 'c'",
                "- { job: a }\\n- { job: b, over: { rows-of: a } } | a runs over no roster, so it has no rows",
                "- { job: a, over: { rows-of: b }, after: [] }\\n- { job: b, over: r, after: [] } | b does not come before this step",
                "- { job: a, over: r }\\n- { job: b, over: { rows-of: a, that: bad } } | 'bad'",
                "- { job: a, over: r }\\n- { job: b, over: [ { rows-of: a } ] } | a single value is expected here",
                "- { job: a }\\n- { job: b, files: { path: \"a:x.csv\" } } | is no name for a file",
                "- { job: a }\\n- { job: b, files: { \"A B\": \"a:x.csv\" } } | the command finds it as GANTREL_FILE_SALES",
                "- { job: a }\\n- { job: b, files: { SALES: x.csv } } | the step and the name of the output, such as report:sales.csv",
                "- { job: a, over: r }\\n- { job: b, files: { SALES: \"a:x.csv\" } } | a has no outputs of its own",
                "- { step: p, pause: 1 min }\\n- { job: b, files: { SALES: \"p:x.csv\" } } | p has no outputs of its own",
                "- { job: a-b }\\n- { job: a_b } | is no name",
                "- { job: a, go-on: yes, repeat: { until: \"true\", times: 2 } } | has no result to look at"
            })
    void isChecked(String text, String message) {
        assertThatThrownBy(() -> steps(text.replace("\\n", "\n")))
                .isInstanceOfSatisfying(InvalidException.class, e -> assertThat(e.problems())
                        .anySatisfy(problem -> assertThat(problem.message()).contains(message)));
    }

    @Test
    @DisplayName("of two thousand steps that branch and join all the way is checked")
    void isCheckedWhateverItsSize() {
        var text = new StringBuilder("- { step: s0, job: a }\n");
        for (int i = 1; i < 1_998; i += 3) {
            String before = i == 1 ? "s0" : "s" + (i - 1);
            text.append("- { step: s%d, job: a, after: %s, when: \"s0.state == 'succeeded'\" }\n".formatted(i, before));
            text.append("- { step: s%d, job: a, after: %s, on: failure }\n".formatted(i + 1, before));
            text.append("- { step: s%d, job: a, after: [ s%d, s%d ], join: any }\n".formatted(i + 2, i, i + 1));
        }
        List<Step> steps = steps(text.toString());
        assertThat(steps).hasSize(1_999);
    }

    @Test
    @DisplayName("may join any way round a branch that only some ends lead to")
    void mayJoinBranches() {
        assertThat(
                        steps(
                                """
                - { job: a }
                - { job: b }
                - { job: c, after: a, on: failure }
                - { job: d, after: [ b, c ], join: any }
                - { job: e, after: [ b, c ], on: any }
                - { job: f, after: [ b, { step: c, on: any } ] }
                """))
                .hasSize(6);
    }

    @Test
    @DisplayName("does a step again until its result is as it should be, within its bounds")
    void doesAStepAgain() {
        var until = new Step.Until("x", 3, Duration.ofMinutes(2), Optional.of(Duration.ofMinutes(5)));
        Instant began = Instant.parse("2026-11-24T02:00:00Z");
        assertThat(Repetition.of(until, RunState.SUCCEEDED, 1, began, began, condition -> true))
                .isEqualTo(new Repetition.Done());
        assertThat(Repetition.of(until, RunState.FAILED, 1, began, began, condition -> false))
                .isEqualTo(new Repetition.Done());
        assertThat(Repetition.of(until, RunState.WARNED, 2, began, began, condition -> false))
                .isEqualTo(new Repetition.Again(began.plusSeconds(120)));
        assertThat(Repetition.of(until, RunState.SUCCEEDED, 3, began, began, condition -> false))
                .isEqualTo(new Repetition.GivesUp("after 3 times x still does not hold"));
        assertThat(Repetition.of(until, RunState.SUCCEEDED, 1, began, began.plusSeconds(200), condition -> false))
                .isEqualTo(new Repetition.GivesUp("after 5 min x still does not hold"));
    }

    @Test
    @DisplayName("tells which steps its length came from")
    void tellsWhereTheTimeWent() {
        List<Step> steps = steps("- { job: a }\n- { job: b }\n- { job: c, after: a }\n- { job: d, after: [ b, c ] }\n");
        Instant t = Instant.parse("2026-11-24T02:00:00Z");
        Map<String, CriticalPath.Span> spans = Map.of(
                "a", new CriticalPath.Span(t, t.plusSeconds(10)),
                "b", new CriticalPath.Span(t.plusSeconds(10), t.plusSeconds(90)),
                "c", new CriticalPath.Span(t.plusSeconds(10), t.plusSeconds(20)),
                "d", new CriticalPath.Span(t.plusSeconds(90), t.plusSeconds(95)));
        assertThat(CriticalPath.of(steps, spans)).containsExactly("a", "b", "d");
        assertThat(CriticalPath.waitedFor(steps.get(3), steps, spans)).contains("b");
    }
}
