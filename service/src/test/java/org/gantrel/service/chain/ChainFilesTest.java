package org.gantrel.service.chain;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import java.util.List;
import java.util.Map;
import org.gantrel.core.run.RunState;
import org.gantrel.service.LiveService;
import org.gantrel.service.http.Invalid;
import org.gantrel.service.http.ProblemView;
import org.gantrel.service.run.Run;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("A chain hands on")
class ChainFilesTest extends WorkingChains {

    @BeforeAll
    static void define() {
        service.define(
                """
                task: sheet
                team: revenue
                parameters: { times: { type: number, default: 1 } }
                does: { shell: "for i in $(seq $N); do echo row; done > rows.csv", environment: { N: "${times}" } }
                outputs: [ { file: rows.csv, name: rows.csv, at-most: 20B } ]
                ---
                task: count
                team: revenue
                does: { shell: "wc -l < $GANTREL_FILE_ROWS > $GANTREL_RESULT; printf '{ \\"rows\\": %s }' $(wc -l < $GANTREL_FILE_ROWS) > $GANTREL_RESULT" }
                gives: { rows: number }
                ---
                task: ask
                team: revenue
                does: { checks: [ { name: there, file: /tmp } ] }
                """);
    }

    private static List<String> problems(String steps) {
        Invalid refused = catchThrowableOfType(
                Invalid.class, () -> service.define("chain: refused\nteam: revenue\nsteps:\n" + steps));
        return refused.problems().stream().map(ProblemView.Wrong::message).toList();
    }

    @Test
    @DisplayName("the output of the latest run of a step, and says where one is missing")
    void handsOnTheLatest() {
        chain(
                "counts",
                """
                steps:
                  - { step: sheet, job: sheet, with: { times: "${day}" } }
                  - { step: count, job: count, files: { ROWS: "sheet:rows.csv" }, on: any }
                """);
        Run run = service.ended(service.start("counts", Map.of("day", "2")));
        assertThat(step(run, "count").run().results()).containsEntry("rows", "2");
        ChainApi api = service.bean(ChainApi.class);
        api.goOn(LiveService.SERVICE, run.number(), new ChainApi.GoOnBody("sheet", Map.of("day", "3"), "more rows"));
        service.ended(run);
        assertThat(step(run, "count").run().results()).containsEntry("rows", "3");
        // too large to be kept: the step that needs it says so, by the name of the step that did not leave it
        Run large = service.ended(service.start("counts", Map.of("day", "9")));
        assertThat(large.state()).isEqualTo(RunState.FAILED);
        assertThat(step(large, "count").message()).contains("the step sheet left no output rows.csv");
    }

    @Test
    @DisplayName("what fits a pattern, under the path that it has, where it alone does")
    void handsOnWhatFits() {
        service.define(
                """
                task: sheets
                team: revenue
                parameters: { names: { type: text, default: a } }
                does: { shell: 'mkdir out; for n in $N; do echo row > "out/$n.csv"; done', environment: { N: "${names}" } }
                outputs: [ { file: "out/*.csv" } ]
                """);
        chain(
                "fits",
                """
                steps:
                  - { step: sheets, job: sheets, with: { names: "${day}" } }
                  - { step: by-path, job: count, after: sheets, files: { ROWS: "sheets:out/a.csv" } }
                  - { step: by-pattern, job: count, after: sheets, files: { ROWS: "sheets:*.csv" } }
                """);
        Run one = service.ended(service.start("fits", Map.of("day", "a")));
        assertThat(one.state()).as(one.message()).isEqualTo(RunState.SUCCEEDED);
        Run two = service.ended(service.start("fits", Map.of("day", "a b")));
        assertThat(step(two, "by-path").message()).contains("exit code 0");
        assertThat(step(two, "by-pattern").message())
                .contains("several outputs fit *.csv, such as out/a.csv and out/b.csv");
    }

    @Test
    @DisplayName("only what a step leaves, and only to commands; all that is wrong is said at once")
    void isChecked() {
        assertThat(
                        problems(
                                """
                  - { step: sheet, job: sheet }
                  - { step: count, job: count, files: { ROWS: "sheet:row.csv" } }
                  - { step: ask, job: ask, files: { ROWS: "sheet:rows.csv" } }
                """))
                .anySatisfy(
                        text -> assertThat(text).contains("sheet keeps no output 'row.csv'", "did you mean 'rows.csv'"))
                .anySatisfy(
                        text -> assertThat(text).contains("ask runs no command, and only commands are given files"));
        assertThat(
                        problems(
                                """
                  - { step: good, job: good }
                  - { step: count, job: count, files: { ROWS: "good:rows.csv" } }
                """))
                .anySatisfy(text -> assertThat(text).contains("its outputs: say what it keeps"));
        assertThat(problems("  - { step: rows, job: count, over: { rows-of: other } }\n"))
                .anySatisfy(text -> assertThat(text).contains("there is no step 'other'"));
    }
}
