package org.gantrel.service.chain;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.access.Role;
import org.gantrel.core.run.RunState;
import org.gantrel.service.Await;
import org.gantrel.service.http.Invalid;
import org.gantrel.service.run.ChainSight.StepState;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.Wishes;
import org.gantrel.service.team.Caller;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("A chain's run")
class ChainLifeTest extends WorkingChains {

    @Test
    @DisplayName("hands results from step to step, and goes where a condition on them holds")
    void handsResultsOn() {
        chain(
                "flows",
                """
                steps:
                  - { step: settle, job: gives, with: { json: '{"total": 12, "route": "sound"}' } }
                  - { step: report, job: notes, when: "settle.values.total > 10", with: { what: "${settle.values.total} on ${settle.values.route} by ${settle.run}" } }
                  - { step: small, job: notes, after: settle, when: "settle.values.total <= 10", with: { what: none } }
                  - { step: either, job: good, after: [ report, small ], join: any }
                """);
        Run run = service.ended(service.start("flows"));
        assertThat(run.state()).as(run.message()).isEqualTo(RunState.SUCCEEDED);
        assertThat(states(run)).isEqualTo("settle=succeeded report=succeeded small=out-of-reach either=succeeded");
        assertThat(step(run, "small").message()).isEqualTo("settle.values.total <= 10 does not hold");
        StepState report = step(run, "report");
        assertThat(report.run().parameters())
                .containsEntry(
                        "what", "12 on sound by " + step(run, "settle").run().number());
        assertThat(seen(run).critical()).containsExactly("settle", "report", "either");
    }

    @Test
    @DisplayName("warns of a result that is not as declared, and fails what needs it with that reason")
    void warnsOfWrongResults() {
        service.define(
                """
                chain: wrong-results
                team: revenue
                parameters: { json: { type: text } }
                steps:
                  - { step: settle, job: gives, with: { json: "${json}" } }
                  - { step: report, job: good, when: "settle.values.total > 10" }
                """);
        Map<String, String> wrong = Map.of(
                "{\"total\": \"many\", \"route\": \"sound\"}", "gave 'many' for total, which is not a number",
                "{\"route\": \"sound\"}", "gave no total",
                "[ 1 ]", "a JSON object is expected",
                "{ total", "its result is not taken: no JSON");
        wrong.forEach((json, message) -> {
            Run run = service.ended(service.start("wrong-results", Map.of("json", json)));
            assertThat(run.state()).isEqualTo(RunState.FAILED);
            assertThat(step(run, "settle").state()).isEqualTo("warned");
            assertThat(step(run, "settle").message()).contains(message);
            assertThat(step(run, "report").message())
                    .startsWith("not started: ")
                    .contains("total");
        });
    }

    @Test
    @DisplayName("asks those who may decide, and nobody else; it goes the way that was decided")
    void asks() {
        chain(
                "asking",
                """
                steps:
                  - { step: settle, job: gives, with: { json: '{"total": 7, "route": "sound"}' } }
                  - { step: sign, approval: { by: { team: finance, role: manager }, within: 2 h, asks: "Pay ${settle.values.total}?", tells: [ bank@lowmarsh.example.org ] } }
                  - { step: pay, job: good }
                  - { step: keep, job: good, after: sign, on: failure }
                """);
        ChainApi api = service.bean(ChainApi.class);
        Run yes = service.start("asking");
        awaits(yes, "sign", "waiting");
        assertThat(api.approvals(MANAGER))
                .filteredOn(open -> open.run() == yes.number())
                .singleElement()
                .satisfies(open -> {
                    assertThat(open.asks()).isEqualTo("Pay 7?");
                    assertThat(open.mayDecide()).isTrue();
                });
        assertThat(api.approvals(STRANGER)).isEmpty();
        Await.until("the question is on its way", () -> asked(
                        "select subject from delivery where run_number = " + yes.number())
                .equals(List.of("asking asks: Pay 7? (run " + yes.number() + ")")));
        var decision = new ChainApi.DecisionBody(true, "looks right");
        assertThatThrownBy(() -> api.decide(STRANGER, yes.number(), "sign", decision))
                .hasMessageContaining("there is no run");
        var clerk = new Caller("kim", "Kim", false, Map.of("revenue", Role.MANAGER, "finance", Role.EDITOR));
        assertThatThrownBy(() -> api.decide(clerk, yes.number(), "sign", decision))
                .hasMessageContaining("takes the role manager in the team finance");
        api.decide(MANAGER, yes.number(), "sign", decision);
        assertThat(service.ended(yes).state()).isEqualTo(RunState.SUCCEEDED);
        assertThat(step(yes, "sign").message()).isEqualTo("approved by finn: looks right");
        assertThatThrownBy(() -> api.decide(MANAGER, yes.number(), "sign", decision))
                .hasMessageContaining("has been decided");
        Run no = service.start("asking");
        awaits(no, "sign", "waiting");
        api.decide(MANAGER, no.number(), "sign", new ChainApi.DecisionBody(false, ""));
        assertThat(service.ended(no).state()).isEqualTo(RunState.WARNED);
        assertThat(states(no)).isEqualTo("settle=succeeded sign=failed pay=out-of-reach keep=succeeded");
        Run late = service.start("asking");
        awaits(late, "sign", "waiting");
        move(Duration.ofHours(2));
        service.ended(late);
        assertThat(step(late, "sign").message()).isEqualTo("nobody decided within 2 h");
    }

    @Test
    @DisplayName("pauses, does a step again until its result is right, and does not wait for what goes on by itself")
    void pausesAndRepeats() {
        service.define("task: counts\nteam: revenue\ndoes: { shell: 'echo x >> " + folder
                + "/count; printf \"{\\\"n\\\": %d}\" $(wc -l < " + folder + "/count) > \"$GANTREL_RESULT\"' }\n");
        service.task("slow", "until test -e " + folder + "/let-go; do sleep 0.05; done", "");
        chain(
                "waits",
                """
                steps:
                  - { step: rest, pause: 30 min }
                  - { step: beside, job: slow, go-on: yes }
                  - { step: check, job: counts, repeat: { until: "check.values.n >= 3", times: 5, every: 2 min } }
                """);
        Run run = service.start("waits");
        awaits(run, "rest", "waiting");
        move(Duration.ofMinutes(30));
        for (int turn = 1; turn < 3; turn++) {
            int now = turn;
            Await.until(
                    "turn " + turn + " is over",
                    () -> step(run, "check").turn() == now && step(run, "check").limit() != null);
            assertThat(step(run, "check").message()).startsWith("done again");
            move(Duration.ofMinutes(2));
        }
        assertThat(service.ended(run).state()).isEqualTo(RunState.SUCCEEDED);
        assertThat(step(run, "check").runs()).hasSize(3);
        StepState beside = step(run, "beside");
        assertThat(beside.state()).isEqualTo("succeeded");
        Run slow = service.found(beside.run().number());
        assertThat(slow.state().isEnded()).isFalse();
        assertThat(slow.parent()).isEmpty();
        assertThat(slow.causeRef()).isEqualTo(String.valueOf(run.number()));
        service.bean(Wishes.class).stop(slow.number(), "mara", CLOCK.instant());
        service.ended(slow);
    }

    @Test
    @DisplayName("meets the run of another chain of the same day, and of no other")
    void meets() {
        String steps =
                """
                steps:
                  - { meeting: bank-is-done, of: "${day}", with-chains: [ %s ], within: 3 h }
                  - { job: good }
                """;
        service.define("chain: ours\nteam: revenue\nparameters: { day: { type: text } }\n" + steps.formatted("bank")
                + "---\nchain: bank\nteam: finance\nparameters: { day: { type: text } }\n" + steps.formatted("ours"));
        Run ours = service.start("ours", Map.of("day", "mon"));
        awaits(ours, "bank-is-done", "waiting");
        assertThat(step(ours, "bank-is-done").message()).isEqualTo("waits for bank");
        Run other = service.start("bank", Map.of("day", "tue"));
        awaits(other, "bank-is-done", "waiting");
        assertThat(step(ours, "bank-is-done").state()).isEqualTo("waiting");
        service.bean(Wishes.class).stop(other.number(), "mara", CLOCK.instant());
        assertThat(service.ended(other).state()).isEqualTo(RunState.CANCELLED);
        Run theirs = service.start("bank", Map.of("day", "mon"));
        assertThat(service.ended(ours).state()).isEqualTo(RunState.SUCCEEDED);
        assertThat(service.ended(theirs).state()).isEqualTo(RunState.SUCCEEDED);
        assertThat(step(ours, "bank-is-done").message()).isEqualTo("met bank");
        Run alone = service.start("ours", Map.of("day", "wed"));
        awaits(alone, "bank-is-done", "waiting");
        move(Duration.ofHours(3));
        assertThat(service.ended(alone).state()).isEqualTo(RunState.FAILED);
        assertThat(step(alone, "bank-is-done").message()).isEqualTo("bank did not come within 3 h");
    }

    @Test
    @DisplayName("is refused at import where a step speaks of what its jobs do not give, or names what is not there")
    void isRefused() {
        assertThatThrownBy(
                        () -> chain(
                                "faulty",
                                """
                        steps:
                          - { step: settle, job: gives, with: { json: x } }
                          - { step: report, job: notes, when: "settle.values.totl > 0", with: { what: "${settle.values.route}" } }
                          - { step: rows, job: mended, over: no-such-roster }
                          - { step: sign, approval: { by: { team: no-team } } }
                          - { step: meet, meeting: m, with-chains: [ nobody ], within: 1 h }
                          - { step: as, job: good, acts-as: no-credential, lanes: [ no-lane ] }
                        """))
                .isInstanceOfSatisfying(Invalid.class, e -> assertThat(e.problems())
                        .extracting(problem -> problem.line() + " " + problem.field() + ": " + problem.message())
                        .anySatisfy(text -> assertThat(text)
                                .startsWith("6 ")
                                .contains("nothing is known as 'settle.values.totl'; did you mean"))
                        .anySatisfy(text ->
                                assertThat(text).startsWith("7 ").contains("there is no roster 'no-such-roster'"))
                        .anySatisfy(text -> assertThat(text).startsWith("8 ").contains("there is no team 'no-team'"))
                        .anySatisfy(text -> assertThat(text).startsWith("9 ").contains("there is no chain 'nobody'"))
                        .anySatisfy(text -> assertThat(text).startsWith("10 ").contains("no-credential"))
                        .anySatisfy(text -> assertThat(text).startsWith("10 ").contains("no-lane")));
    }

    @Test
    @DisplayName("goes on where it was when the service is started again")
    void outlivesARestart() throws IOException {
        chain(
                "restarted",
                """
                steps:
                  - { step: first, job: good }
                  - { step: rest, pause: 10 min }
                  - { step: sign, approval: { by: { team: finance } } }
                  - { step: second, job: good }
                """);
        Run run = service.start("restarted");
        awaits(run, "rest", "waiting");
        service.restart();
        move(Duration.ofMinutes(10));
        awaits(run, "sign", "waiting");
        service.restart();
        service.bean(ChainApi.class).decide(MANAGER, run.number(), "sign", new ChainApi.DecisionBody(true, ""));
        assertThat(service.ended(run).state()).isEqualTo(RunState.SUCCEEDED);
        assertThat(service.children(run)).extracting(Run::step).containsExactly("first", "second");
        assertThat(Optional.ofNullable(step(run, "first").runs())).isEmpty();
        assertThat(List.of(seen(run).critical().get(0))).containsExactly("first");
    }

    @Test
    @DisplayName("starts what waits for the end of one of its steps, once, with what is known of it")
    void isListenedTo() throws IOException {
        service.define(
                """
                task: listens
                team: finance
                parameters: { run: { type: number }, total: { type: number } }
                does: { command: [ /bin/true ] }
                triggers:
                  - { name: after-settle, on: step.ended, of: heard, step: settle, ends: [ succeeded ], when: "event.values.total > 5", with: { run: "${event.run}", total: "${event.values.total}" }, delay: 1 min }
                  - { name: after-all, on: run.ended, of: heard, ends: [ failed ], with: { run: "${event.run}", total: "0" } }
                ---
                chain: heard
                team: revenue
                parameters: { json: { type: text } }
                steps:
                  - { step: settle, job: gives, with: { json: "${json}" } }
                  - { step: rest, pause: 10 min }
                """);
        Run run = service.start("heard", Map.of("json", "{\"total\": 12, \"route\": \"x\"}"));
        Run small = service.start("heard", Map.of("json", "{\"total\": 3, \"route\": \"x\"}"));
        Await.until("it is heard of", () -> heard().size() == 1);
        Run listens = service.found(heard().get(0));
        assertThat(listens.parameters())
                .containsEntry("total", "12")
                .containsEntry("run", String.valueOf(step(run, "settle").run().number()));
        assertThat(listens.step()).isEqualTo("after-settle");
        Await.until(
                "it waits for its time",
                () -> service.found(listens.number()).waitingFor().equals("its planned time"));
        awaits(run, "rest", "waiting");
        service.restart();
        move(Duration.ofMinutes(11));
        assertThat(service.ended(listens).state()).isEqualTo(RunState.SUCCEEDED);
        service.ended(run);
        // it waited for the other, as runs of one job do
        awaits(small, "rest", "waiting");
        move(Duration.ofMinutes(11));
        service.ended(small);
        assertThat(heard()).hasSize(1);
        assertThatThrownBy(() -> service.define("task: t\nteam: finance\ndoes: { command: [ x ] }\ntriggers:\n"
                        + "  - { name: a, on: step.ended, of: heard, step: setle }\n"
                        + "  - { name: b, on: run.ended, of: t }\n"
                        + "  - { name: c, on: run.endet, of: herd, when: \"event.values\" }\n"))
                .hasMessageContaining("did you mean 'run.ended'?")
                .hasMessageContaining("would never come to rest");
        assertThatThrownBy(
                        () -> service.define(
                                "task: t\nteam: finance\ndoes: { command: [ x ] }\ntriggers:\n"
                                        + "  - { name: a, on: step.ended, of: heard, step: setle }\n  - { name: b, on: run.ended, of: herd }\n"))
                .hasMessageContaining("did you mean 'settle'?")
                .hasMessageContaining("did you mean 'heard'?");
    }

    private static List<Long> heard() {
        return asked("select number from run where job_name = 'listens' order by number").stream()
                .map(Long::parseLong)
                .toList();
    }
}
