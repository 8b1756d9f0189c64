package org.gantrel.service.work;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.definition.DefinitionReader;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.run.RunState;
import org.gantrel.service.http.Invalid;
import org.gantrel.service.http.ProblemView.Wrong;
import org.gantrel.service.imports.Imports;
import org.gantrel.service.imports.Imports.DefinitionFile;
import org.gantrel.service.imports.Imports.ImportBody;
import org.gantrel.service.imports.Imports.Imported;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.Starts;
import org.gantrel.service.run.SweepRequest;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("Definitions that are kept")
class KeptInOrderTest extends WorkingService {

    private static List<Imported> bringIn(boolean dryRun, boolean overEdits, String text) {
        return service.getBean(Imports.class)
                .bringIn(SERVICE, dryRun, overEdits, new ImportBody(List.of(new DefinitionFile("a.yaml", text))));
    }

    @Test
    @DisplayName(
            "are told all that is wrong with them at once, each thing at its line, though a document cannot be used")
    void areToldAll() {
        String text =
                """
                task: lend-out
                team: revenue
                time-limit: soon
                does: { command: [ echo ] }
                schedules:
                  - { name: a, when: every day at 02:30, zone: UTC, calendar: none-such }
                  - name: b
                    when: every day on Monday at 10:00
                    zone: UTC
                    over: no-roster
                ---
                calendar: odd
                team: revenu
                days: weekdays
                closed: [ { on: 31 April } ]
                except: nothing-like
                ---
                chain: both
                team: revenue
                steps:
                  - { step: a, job: lend-out }
                  - { step: b, job: lend-uot }
                """;
        assertThatThrownBy(() -> bringIn(false, false, text))
                .isInstanceOfSatisfying(Invalid.class, wrong -> assertThat(wrong.problems())
                        .extracting(each -> each.line() + " " + each.field())
                        .containsExactly(
                                "3 time-limit",
                                "6 schedules[0].calendar",
                                "8 schedules[1].when",
                                "10 schedules[1].over",
                                "13 team",
                                "15 closed[0].on",
                                "16 except",
                                "22 steps.b"));
        assertThat(service.getBean(Jobs.class).named("lend-out")).isEmpty();
    }

    @Test
    @DisplayName("are not undone by a file that is older than an edit, unless that is meant")
    void areNotUndone() {
        String file = "task: edited\nteam: revenue\ndoes: { command: [ echo, one ] }\n";
        bringIn(false, false, file);
        bringIn(false, false, file.replace("one", "two"));
        service.getBean(Jobs.class).save(SERVICE, DefinitionReader.readOne(file.replace("one", "by hand")));
        Imported dry = bringIn(true, false, file).get(0);
        assertThat(dry.warnings()).anySatisfy(said -> assertThat(said).contains("was edited by", "--over-edits"));
        assertThat(dry.before()).contains("by hand");
        assertThat(dry.after()).contains("one");
        assertThatThrownBy(() -> bringIn(false, false, file))
                .isInstanceOfSatisfying(Invalid.class, wrong -> assertThat(wrong.problems())
                        .singleElement()
                        .extracting(Wrong::message)
                        .asString()
                        .contains("edited was edited by"));
        // the edit itself, brought in again, undoes nothing
        assertThat(bringIn(false, false, file.replace("one", "by hand")).get(0).action())
                .isEqualTo("leave");
        assertThat(bringIn(false, true, file).get(0).action()).isEqualTo("change");
        assertThat(bringIn(false, false, file.replace("one", "three")).get(0).action())
                .isEqualTo("change");
    }

    @Test
    @DisplayName("warn of rows that the jobs over them could not take, by row and column")
    void warnOfRows() {
        List<Imported> done = bringIn(
                false,
                false,
                """
                roster: numbers
                team: revenue
                columns: [ n ]
                rows: [ { n: 1 }, { n: x }, { n: y, include: no } ]
                ---
                task: count-up
                team: revenue
                parameters: { n: { type: number } }
                does: { command: [ echo, "${n}" ] }
                schedules: [ { name: a, when: every day at 02:30, zone: UTC, over: numbers } ]
                """);
        assertThat(done.get(0).warnings())
                .containsExactly("row 2, column n: 'x' is not a number such as 12 or 0.5 (job count-up)");
    }

    @Test
    @DisplayName("warn of what chains run over a roster whose rows or columns do not fit")
    void warnOfSteps() {
        bringIn(
                false,
                false,
                """
                roster: harbours
                team: revenue
                columns: [ harbor, depth ]
                rows: [ { harbor: skarholm, depth: 3 } ]
                ---
                task: sound
                team: revenue
                parameters: { harbour: { type: text }, depth: { type: number }, ship: { type: text } }
                does: { command: [ echo, "${harbour}" ] }
                """);
        List<Imported> done = bringIn(
                false,
                false,
                """
                chain: survey
                team: revenue
                steps: [ { step: all, job: sound, over: harbours, with: { ship: tern } } ]
                """);
        assertThat(done.get(0).warnings())
                .anyMatch(
                        warning -> warning.equals("step all: neither the columns of harbours nor 'with' give what sound"
                                + " needs: harbour; did you mean 'harbor'?"));
        List<Imported> rows = bringIn(
                false,
                false,
                """
                roster: harbours
                team: revenue
                columns: [ harbour, depth ]
                rows: [ { harbour: skarholm, depth: deep } ]
                """);
        assertThat(rows.get(0).warnings())
                .containsExactly("row 1, column depth: 'deep' is not a number such as 12 or 0.5 (job sound, step all of"
                        + " survey)");
    }

    @Test
    @DisplayName(
            "let single rows be chosen that are there, and those that failed be run again by the number of the run")
    void letRowsBeChosen() {
        bringIn(
                false,
                false,
                """
                roster: some-rows
                team: revenue
                columns: [ n ]
                rows: [ { n: 1 }, { n: x }, { n: 3 } ]
                ---
                task: over-rows
                team: revenue
                parameters: { n: { type: number } }
                does: { command: [ echo, "${n}" ] }
                """);
        var starts = service.getBean(Starts.class);
        assertThatThrownBy(
                        () -> starts.start(SERVICE, "over-rows", Map.of(), over("some-rows", "2,9"), Optional.empty()))
                .isInstanceOf(InvalidException.class)
                .hasMessageContaining("there is no row 9; the roster has 3 rows");
        Run first = ended(starts.start(SERVICE, "over-rows", Map.of(), over("some-rows", "all"), Optional.empty()));
        assertThat(first.message()).startsWith("1 of 3 rows failed");
        ended(starts.start(SERVICE, "over-rows", Map.of(), over("some-rows", "1"), Optional.empty()));
        Run again = ended(starts.repeatFailed(SERVICE, first.number()));
        assertThat(again.state()).isEqualTo(RunState.FAILED);
        assertThat(again.message()).startsWith("1 of 1 row failed");
        Run fine = ended(starts.start(SERVICE, "over-rows", Map.of(), over("some-rows", "3"), Optional.empty()));
        assertThatThrownBy(() -> starts.repeatFailed(SERVICE, fine.number()))
                .isInstanceOf(Refusal.class)
                .hasMessageContaining("no row of run");
        Run single = ended(starts.start(SERVICE, "over-rows", Map.of("n", "4"), Optional.empty()));
        assertThatThrownBy(() -> starts.repeatFailed(SERVICE, single.number()))
                .hasMessageContaining("went over no roster");
    }

    private static Optional<SweepRequest> over(String roster, String rows) {
        return Optional.of(new SweepRequest(roster, rows, Optional.empty(), Optional.empty()));
    }
}
