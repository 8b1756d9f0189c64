package org.gantrel.core.definition;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.LocalDate;
import java.util.List;
import org.gantrel.core.definition.DefinitionReader.Reading;
import org.gantrel.core.notification.DutyList;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.problem.Problem;
import org.gantrel.core.when.When;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

@DisplayName("The text of a definition")
class DefinitionTextTest {

    private static final String HEAD = "task: settle\nteam: revenue # ours\ndoes: { command: [ ./settle.sh ] }\n";
    private static final String EARLY = "{ name: early, when: every day at 02:30, zone: UTC }";
    private static final String LATE = "{ name: late, when: every day at 22:30, zone: UTC }";

    @ParameterizedTest
    @ValueSource(
            strings = {
                HEAD + "schedules: [ " + EARLY + ", " + LATE + " ]\nlanes: [ cards ]\n",
                HEAD + "schedules: [ " + LATE + ", " + EARLY + " ]\n",
                HEAD + "schedules:\n  - " + EARLY + " # first\n  - " + LATE + "\nlanes: [ cards ]\n",
                HEAD + "schedules:\n  - name: late\n    when: every day at 22:30\n    zone: UTC\n  - name: early\n"
                        + "    when: every day at 02:30\n    zone: UTC\n",
                HEAD + "schedules:\n  - name: early\n    when: every day at 02:30\n    zone: UTC\n\n  # the other\n  - "
                        + LATE + "\nlanes: [ cards ]\n",
                HEAD + "schedules:\n- " + EARLY + "\nlanes: [ cards ]\n",
                HEAD + "schedules: [ " + EARLY + " ]\n"
            })
    @DisplayName("loses one schedule and nothing else")
    void losesOneSchedule(String text) {
        String edited = DefinitionEdit.withoutSchedule(text, "early");
        assertThat(edited).startsWith(HEAD).doesNotContain("02:30");
        assertThat(edited.contains("22:30")).isEqualTo(text.contains("22:30"));
        assertThat(edited.contains("lanes")).isEqualTo(text.contains("lanes"));
        assertThat(DefinitionReader.readOne(edited).job().schedules()).hasSize(text.contains("22:30") ? 1 : 0);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "",
                "covers: [ ]\n",
                "covers: []   # nobody yet\nabout: x\n",
                "covers: [ { from: 2026-12-01, until: 2026-12-02, person: tove.lind } ] # one\nabout: x\n",
                "covers:\n  - { from: 2026-12-01, until: 2026-12-02, person: tove.lind }   # one\n  # the end\nabout: x\n",
                "covers:\n- from: 2026-12-01\n  until: 2026-12-02\n  person: tove.lind\n\nabout: x\n",
                "covers:\n    - { from: 2026-12-01, until: 2026-12-02, person: tove.lind }"
            })
    @DisplayName("of a duty list takes more people who stand in, and keeps the rest as it is written")
    void takesCovers(String rest) {
        String head =
                "duty: night-desk # ours\nteam: revenue\nzone: Europe/Oslo\nfrom: 2026-11-23\nturns: [ mara.holt, ivo.brandt ]\n";
        var more = List.of(
                new DutyList.Cover(LocalDate.of(2026, 12, 24), LocalDate.of(2026, 12, 27), "tove.lind"),
                new DutyList.Cover(LocalDate.of(2026, 12, 28), LocalDate.of(2026, 12, 29), "ivo.brandt"));
        String edited = DefinitionEdit.withCovers(head + rest, more);
        var list = (DutyList) DefinitionReader.readTelling(edited).telling();
        assertThat(list.covers()).endsWith(more.toArray(DutyList.Cover[]::new)).hasSize(rest.contains("12-01") ? 3 : 2);
        assertThat(edited).startsWith(head);
        for (String kept : List.of("# one", "# the end", "about: x", "# nobody yet")) {
            assertThat(edited.contains(kept)).as(edited).isEqualTo(rest.contains(kept));
        }
    }

    @Test
    @DisplayName("that shares a schedule by an anchor is left as it is")
    void isLeft() {
        String text = HEAD + "schedules: [ &a " + EARLY + ", { name: late, when: every day at 22:30, zone: UTC } ]\n";
        assertThat(DefinitionEdit.withoutSchedule(text, "late")).contains("early");
        assertThatThrownBy(
                        () -> DefinitionEdit.withoutSchedule(HEAD + "schedules: [ &a " + EARLY + ", *a ]\n", "early"))
                .isInstanceOf(InvalidException.class);
    }

    @ParameterizedTest(name = "{0}: line {1}, column {2}")
    @CsvSource({
        "team, 12, 7",
        "schedules[1].calendar, 16, 15",
        "schedules[0].calendar, 15, 5",
        "schedules[7].calendar, 11, 1",
        "steps.none, 11, 1",
        "'', 11, 1"
    })
    @DisplayName("tells where a field stands, or the nearest thing around it")
    void tellsWhere(String field, int line, int column) {
        String text =
                "task: settle\nteam: revenue\ndoes: { command: [ a ] }\nschedules:\n  - { name: a }\n  - calendar: x\n";
        Problem problem = Places.problem(text, 11, field, "wrong");
        assertThat(List.of(problem.line(), problem.column())).as("%s", problem).containsExactly(line, column);
        assertThat(problem.field()).isEqualTo(field);
    }

    @Test
    @DisplayName("is read as far as it can be, so that one fault hides no other")
    void isReadAsFarAsPossible() {
        Reading reading =
                DefinitionReader.readAsFarAsPossible(HEAD + "time-limit: soon\n---\ncalendar: days\nteam: revenue\n"
                        + "days: weekdays\nclosed: [ { on: 31 April } ]\n---\n" + HEAD.replace("settle", "other"));
        assertThat(reading.problems())
                .extracting(problem -> problem.line() + " " + problem.field())
                .containsExactly("4 time-limit", "9 closed[0].on");
        assertThat(reading.problems().get(1).message()).contains("'day 31 of April' never comes");
        assertThat(reading.read().jobs()).hasSize(2);
        assertThat(reading.wrong()).containsExactlyInAnyOrder(1, 6);
    }

    @ParameterizedTest(name = "{0} still means {1}")
    @CsvSource(
            delimiter = '|',
            value = {
                "every day on Monday at 10:00          | every day at 10:00",
                "day 1 of January in July at 05:00     | day 1 of July at 05:00",
                "every 3rd day at 05:00                | day 3 of every month at 05:00",
                "every second Monday at 05:00          | second Monday of every month at 05:00",
                "every day at 06:00 until 2027-01-01 until 2027-02-01 | every day at 06:00 until 2027-02-01",
                "*/90 * * * *                          | every hour",
                "0 5-9/70 * * *                        | every day at 05:00"
            })
    @DisplayName("that was saved before words were counted keeps its meaning")
    void keepsItsMeaning(String text, String phrase) {
        assertThat(When.parseKept(text.strip()).phrase()).isEqualTo(phrase);
    }
}
