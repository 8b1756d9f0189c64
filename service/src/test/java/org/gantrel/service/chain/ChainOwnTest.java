package org.gantrel.service.chain;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Files;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import org.gantrel.core.access.Role;
import org.gantrel.core.run.RunState;
import org.gantrel.service.Await;
import org.gantrel.service.LiveService;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.Runs;
import org.gantrel.service.run.Wishes;
import org.gantrel.service.team.Caller;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("A chain")
class ChainOwnTest extends WorkingChains {

    @Test
    @DisplayName("may give its steps a time limit and tries of their own, in sweeps too")
    void givesStepsRulesOfTheirOwn() throws IOException {
        service.define(
                """
                roster: two-names
                team: revenue
                columns: [ name ]
                rows: [ { name: own-a }, { name: own-b } ]
                ---
                task: endless
                team: revenue
                does: { command: [ sleep, "600" ] }
                """);
        chain(
                "own-rules",
                """
                steps:
                  - { step: limited, job: endless, time-limit: 1 s }
                  - { step: tried, job: mended, with: { name: never }, retry: { tries: 2, wait: 1 s }, after: [] }
                  - { step: rows, job: mended, over: two-names, priority: 8, after: [] }
                  - { step: counted, job: notes, after: rows, on: any, with: { what: "${rows.values.failed} of ${rows.values.rows}" } }
                """);
        Files.writeString(folder.resolve("own-a"), "");
        Run run = service.start("own-rules");
        awaits(run, "rows", "failed");
        awaits(run, "counted", "succeeded");
        assertThat(step(run, "counted").run().parameters()).containsEntry("what", "1 of 2");
        Await.until("the second try waits", () -> service.children(run).stream()
                .anyMatch(child -> child.step().equals("tried") && child.again().isPresent()));
        move(Duration.ofSeconds(2));
        Run ended = service.ended(run);
        assertThat(ended.message()).contains("step limited timed-out", "step tried failed", "step rows failed");
        assertThat(step(run, "limited").message()).isEqualTo("stopped at its time limit of 1.0 s");
        assertThat(step(run, "tried").message()).endsWith("try 2 of 2");
    }

    @Test
    @DisplayName("hands outputs on as files, to the rows of a sweep too, and the rows of a sweep with what they gave")
    void handsFilesAndRowsOn() throws IOException {
        service.define(
                """
                roster: three-names
                team: revenue
                columns: [ name ]
                rows: [ { name: r-a }, { name: r-b }, { name: r-c } ]
                ---
                task: leaves
                team: revenue
                does: { shell: "mkdir -p out; echo sold > 'out/of today.csv'" }
                outputs: [ { file: "out/of today.csv", name: "of today.csv" } ]
                ---
                task: settles
                team: revenue
                parameters: { name: { type: text } }
                does:
                  command: [ /bin/sh, -c, 'test -e "%s/$N" && printf "{\\"crowns\\": 1%%s}" "$(wc -l < "$GANTREL_FILE_SHEET")" > "$GANTREL_RESULT"' ]
                  environment: { N: "${name}" }
                gives: { crowns: number }
                ---
                task: tells
                team: revenue
                parameters: { name: { type: text }, crowns: { type: number, default: -1 } }
                does: { command: [ /bin/echo, "${name}", "${crowns}" ] }
                """
                        .formatted(folder));
        chain(
                "hands-on",
                """
                steps:
                  - { step: sheet, job: leaves }
                  - { step: settle, job: settles, over: three-names, files: { SHEET: "sheet:of today.csv" } }
                  - { step: fine, job: tells, over: { rows-of: settle, that: good }, on: any }
                  - { step: wrong, job: tells, over: { rows-of: settle, that: failed }, after: settle, on: any }
                  - { step: sum, job: notes, after: settle, on: any, when: "settle.values.crowns > 20", with: { what: "${settle.values.crowns}" } }
                """);
        Files.writeString(folder.resolve("r-a"), "");
        Files.writeString(folder.resolve("r-b"), "");
        Run run = service.start("hands-on");
        assertThat(service.ended(run).message()).contains("step settle failed");
        assertThat(rowsOf(run, "fine")).containsExactlyInAnyOrder("r-a 11", "r-b 11");
        assertThat(rowsOf(run, "wrong")).containsExactly("r-c -1");
        // what another job gave for other rows is none of its own
        assertThat(service.found(step(run, "wrong").run().number()).results()).doesNotContainKey("crowns");
        assertThat(step(run, "sum").run().number())
                .satisfies(
                        number -> assertThat(service.found(number).parameters()).containsEntry("what", "22"));
        // a sweep that goes on with its failed rows stands for those that had been good before
        Files.writeString(folder.resolve("r-c"), "");
        assertThat(goOn(run, "", Map.of()).state()).isEqualTo(RunState.SUCCEEDED);
        assertThat(rowsOf(run, "fine")).containsExactlyInAnyOrder("r-a 11", "r-b 11", "r-c 11");
        assertThat(service.found(step(run, "sum").run().number()).parameters()).containsEntry("what", "33");
        assertThat(service.found(step(run, "settle").run().number()).results())
                .isEqualTo(Map.of("rows", "1", "succeeded", "1", "failed", "0", "crowns", "33"));
    }

    @Test
    @DisplayName("gives the sums of its rows' numbers, and nothing else of what they give")
    void givesSums() {
        service.define("roster: none\nteam: revenue\ncolumns: [ json ]\nrows: []\n---\n"
                + "roster: some\nteam: revenue\ncolumns: [ json ]\nrows:\n"
                + "  - { json: '{ \"total\": 1.5, \"route\": \"7\", \"more\": 2, \"mixed\": 1 }' }\n"
                + "  - { json: '{ \"total\": -4, \"route\": \"8\", \"more\": 3, \"mixed\": \"x\" }' }\n");
        for (String roster : List.of("none", "some")) {
            chain(
                    "sums-of-" + roster,
                    """
                    steps:
                      - { step: all, job: gives, over: ROSTER }
                      - { step: tell, job: notes, with: { what: "${all.values.total}" }, when: "all.values.total < 1" }
                    """
                            .replace("ROSTER", roster));
        }
        Run none = service.start("sums-of-none");
        Run some = service.start("sums-of-some");
        assertThat(service.ended(none).state()).isEqualTo(RunState.SUCCEEDED);
        assertThat(service.ended(some).state()).isEqualTo(RunState.SUCCEEDED);
        assertThat(service.found(step(none, "tell").run().number()).parameters())
                .containsEntry("what", "0");
        assertThat(service.found(step(some, "tell").run().number()).parameters())
                .containsEntry("what", "-2.5");
        assertThat(service.found(step(some, "all").run().number()).results())
                .isEqualTo(Map.of("rows", "2", "succeeded", "2", "failed", "0", "total", "-2.5", "more", "5"));
        assertThatThrownBy(
                        () -> chain(
                                "sums-wrong",
                                """
                steps:
                  - { step: all, job: gives, over: some }
                  - { step: tell, job: notes, with: { what: "${all.values.route}" } }
                """))
                .hasMessageContaining("nothing is known as 'all.values.route'; did you mean 'all.values.rows'?");
    }

    private static List<String> rowsOf(Run run, String step) {
        return service.bean(Runs.class).children(step(run, step).run().number()).stream()
                .map(row ->
                        row.parameters().get("name") + " " + row.parameters().get("crowns"))
                .toList();
    }

    @Test
    @DisplayName("does not let the one who started it answer its question where another is to")
    void asksSomebodyElse() {
        chain("four-eyes", "steps:\n  - { step: sign, approval: { by: { team: finance }, not-by-starter: yes } }\n");
        Run run = service.start("four-eyes");
        awaits(run, "sign", "waiting");
        ChainApi api = service.bean(ChainApi.class);
        var yes = new ChainApi.DecisionBody(true, "");
        assertThatThrownBy(() -> api.decide(LiveService.SERVICE, run.number(), "sign", yes))
                .hasMessageContaining("somebody else is to decide");
        assertThatThrownBy(() -> api.decide(MANAGER, run.number(), "sign", new ChainApi.DecisionBody(null, "")))
                .hasMessageContaining("is missing: true to go on");
        assertThatThrownBy(() -> api.decide(MANAGER, run.number(), "sgn", yes)).hasMessageContaining("asks nobody");
        assertThatThrownBy(() ->
                        api.decide(MANAGER, run.number(), "sign", new ChainApi.DecisionBody(true, "x".repeat(301))))
                .hasMessageContaining("too long");
        // who is asked but may not see the chain's team may answer all the same, and learns nothing else
        var asked = new Caller("ann", "Ann", false, Map.of("finance", Role.OPERATOR));
        assertThat(api.approvals(asked)).extracting(Approvals.Open::step).contains("sign");
        assertThatThrownBy(() -> api.show(asked, run.number())).hasMessageContaining("there is no run");
        assertThat(api.decide(asked, run.number(), "sign", yes).steps()).isEmpty();
        assertThat(service.ended(run).state()).isEqualTo(RunState.SUCCEEDED);
    }

    @Test
    @DisplayName("meets any one other chain where nobody is named, and goes on with a warning where that is wanted")
    void meetsAnyOther() {
        String steps = "steps:\n  - { meeting: harbour, of: \"${day}\", within: 1 h, then: go-on }\n";
        chain("north", steps);
        chain("south", steps);
        Run north = service.start("north", Map.of("day", "fri"));
        awaits(north, "harbour", "waiting");
        assertThat(step(north, "harbour").message()).isEqualTo("waits for another chain");
        Run again = service.start("north", Map.of("day", "fri"));
        Run south = service.start("south", Map.of("day", "fri"));
        assertThat(service.ended(north).state()).isEqualTo(RunState.SUCCEEDED);
        assertThat(service.ended(south).state()).isEqualTo(RunState.SUCCEEDED);
        // who comes later finds that the other was there
        assertThat(service.ended(again).state()).isEqualTo(RunState.SUCCEEDED);
        Run alone = service.start("south", Map.of("day", "sat"));
        awaits(alone, "harbour", "waiting");
        move(Duration.ofHours(1));
        assertThat(service.ended(alone).state()).isEqualTo(RunState.WARNED);
    }

    @Test
    @DisplayName("meets on its planned day where nothing else is said, and asks in one line whatever a result holds")
    void meetsOnItsDay() {
        String steps = "steps:\n  - { meeting: pier, within: 1 h, then: go-on }\n";
        chain("east", steps);
        chain("west", steps);
        Run east = service.start("east");
        Run west = service.start("west");
        assertThat(service.ended(east).state()).isEqualTo(RunState.SUCCEEDED);
        assertThat(service.ended(west).state()).isEqualTo(RunState.SUCCEEDED);
        move(Duration.ofDays(1));
        Run later = service.start("east");
        awaits(later, "pier", "waiting");
        service.bean(Wishes.class).stop(later.number(), "mara", CLOCK.instant());
        service.ended(later);
        chain(
                "long-question",
                """
                steps:
                  - { step: settle, job: gives, with: { json: '{"total": 1, "route": "a\\r\\nBcc: x@example.org\\n%s"}' } }
                  - { step: sign, approval: { by: { team: finance }, asks: "To ${settle.values.route}?", tells: [ bank@lowmarsh.example.org ] } }
                """
                        .formatted("x".repeat(400)));
        Run asks = service.start("long-question");
        awaits(asks, "sign", "waiting");
        Await.until(
                "the question is on its way",
                () -> asked("select subject from delivery where run_number = " + asks.number())
                                .size()
                        == 1);
        assertThat(asked("select subject from delivery where run_number = " + asks.number())
                        .get(0))
                .startsWith("long-question asks: To a Bcc: x@example.org xxx")
                .doesNotContain("\n", "\r")
                .hasSizeLessThan(300);
    }

    @Test
    @DisplayName("that is cancelled while it asks ends at once, and can go on later from where it was")
    void goesOnAfterACancel() {
        chain(
                "cut",
                """
                steps:
                  - { step: first, job: good }
                  - { step: rest, pause: 5 min }
                  - { step: second, job: good }
                """);
        Run run = service.start("cut");
        awaits(run, "rest", "waiting");
        service.bean(Wishes.class).stop(run.number(), "mara", CLOCK.instant());
        assertThat(service.ended(run).state()).isEqualTo(RunState.CANCELLED);
        assertThat(states(run)).isEqualTo("first=succeeded rest=cancelled second=out-of-reach");
        ChainApi api = service.bean(ChainApi.class);
        api.goOn(LiveService.SERVICE, run.number(), null);
        awaits(run, "rest", "waiting");
        assertThatThrownBy(() -> api.goOn(LiveService.SERVICE, run.number(), null))
                .hasMessageContaining("say from which step");
        assertThatThrownBy(
                        () -> api.goOn(LiveService.SERVICE, run.number(), new ChainApi.GoOnBody("first", null, null)))
                .hasMessageContaining("what would come again is under way: rest");
        move(Duration.ofMinutes(5));
        assertThat(service.ended(run).state()).isEqualTo(RunState.SUCCEEDED);
        assertThat(service.children(run)).extracting(Run::step).containsExactly("first", "second");
        Run task = service.ended(service.start("good"));
        assertThatThrownBy(() -> api.goOn(LiveService.SERVICE, task.number(), null))
                .hasMessageContaining("is no run of a chain");
        assertThat(List.of(step(run, "rest").round(), step(run, "first").round()))
                .containsExactly(2, 1);
    }
}
