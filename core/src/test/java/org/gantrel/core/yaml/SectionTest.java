package org.gantrel.core.yaml;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.gantrel.core.problem.Problem;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

@DisplayName("A section of a YAML file")
class SectionTest {

    private final List<Problem> problems = new ArrayList<>();

    private Section section(String text) {
        return Section.compose(text, problems).orElseThrow();
    }

    private List<String> sentences() {
        return problems.stream().map(Problem::sentence).toList();
    }

    @Test
    @DisplayName("gives what stands in it, in its order")
    void givesWhatStandsInIt() {
        Section section = section(
                """
                name: heron
                crew: [ berg, dahl ]
                berths: { north: 2, south: 4 }
                trips:
                  - { to: skarholm }
                  - { to: sound }
                open: yes
                """);
        assertThat(section.keys()).containsExactly("name", "crew", "berths", "trips", "open");
        assertThat(section.text("name", 10)).contains("heron");
        assertThat(section.texts("crew", 10)).containsExactly("berg", "dahl");
        assertThat(section.map("berths", 10)).containsExactly(Map.entry("north", "2"), Map.entry("south", "4"));
        assertThat(section.sections("trips"))
                .extracting(trip -> trip.needed("to", 10, "where"))
                .containsExactly("skarholm", "sound");
        assertThat(section.yes("open", false)).isTrue();
        assertThat(section.yes("closed", false)).isFalse();
        assertThat(section.isList("crew")).isTrue();
        assertThat(section.has("captain")).isFalse();
        assertThat(problems).isEmpty();
    }

    @Test
    @DisplayName("complains of what is not as it should be, with line, column and path")
    void complains() {
        Section section = section(
                """
                name: [ a ]
                crew: berg
                berths: 4
                open: perhaps
                about: a very long text
                trips: [ { too: x } ]
                """);
        section.text("name", 10);
        section.texts("crew", 10);
        section.map("berths", 10);
        section.yes("open", true);
        section.text("about", 5);
        section.sections("trips").forEach(trip -> trip.knowing("to").needed("to", 10, "where it goes"));
        section.sections("trips").get(0).complain("", "goes nowhere");
        assertThat(sentences())
                .containsExactly(
                        "line 1, column 7: name: a single value is expected here, not a list or a mapping",
                        "line 2, column 7: crew: a list is expected here, such as [ a, b ]",
                        "line 3, column 9: berths: a mapping (key: value) is expected here",
                        "line 4, column 7: open: 'perhaps': yes or no is expected",
                        "line 5, column 8: about: too long: 16 characters, at most 5",
                        "line 6, column 12: trips[0].too: unknown key; did you mean 'to'?",
                        "line 6, column 10: trips[0].to: is missing: where it goes",
                        "line 6, column 10: trips[0]: goes nowhere");
    }

    @ParameterizedTest(name = "{0} is read as {1}")
    @CsvSource({"yes, true", "on, true", "true, true", "no, false", "off, false", "false, false"})
    void knowsYesAndNo(String word, boolean meaning) {
        assertThat(section("open: " + word).yes("open", !meaning)).isEqualTo(meaning);
        assertThat(problems).isEmpty();
    }

    @Test
    @DisplayName("has each key once, and no more entries than it may")
    void hasEachKeyOnce() {
        assertThat(section("a: 1\na: 2\n").text("a", 5)).contains("1");
        assertThat(sentences()).containsExactly("line 2, column 1: a: is given twice");
        problems.clear();
        var many = new StringBuilder();
        for (int i = 0; i < 501; i++) {
            many.append("k").append(i).append(": x\n");
        }
        assertThat(section(many.toString()).keys()).hasSize(500);
        assertThat(sentences()).containsExactly("line 501, column 1: too many entries: at most 500");
        problems.clear();
        assertThat(section("list: [" + "x, ".repeat(2_001) + "]").texts("list", 5))
                .isEmpty();
        assertThat(sentences()).containsExactly("line 1, column 7: list: too long a list: at most 2000");
    }

    @Test
    @DisplayName("of what is no YAML is nothing but a problem")
    void ofNoYaml() {
        assertThat(Section.compose("a: [ 1, 2\nb: 3", problems)).isEmpty();
        assertThat(problems).singleElement().satisfies(problem -> {
            assertThat(problem.line()).isEqualTo(2);
            assertThat(problem.message()).startsWith("not YAML: ");
        });
        problems.clear();
        assertThat(Section.compose("", problems)).isEmpty();
        assertThat(problems).isEmpty();
    }

    @Test
    @DisplayName("is read as far as it is nested sensibly and holds text only")
    void isBounded() {
        for (String deep : List.of("[".repeat(1_000), "a: " + "[".repeat(500) + "]".repeat(500), "{a: ".repeat(400))) {
            var problems = new ArrayList<Problem>();
            assertThat(Section.compose(deep, problems)).isEmpty();
            assertThat(problems).hasSize(1);
            assertThat(problems.get(0).message()).contains("nested more than 24 deep");
        }
        var problems = new ArrayList<Problem>();
        Section section = Section.compose("about: \"a\\0b\"", problems).orElseThrow();
        assertThat(section.text("about", 100)).isEmpty();
        assertThat(problems.get(0).message()).isEqualTo("holds a control character, which no text may");
    }
}
