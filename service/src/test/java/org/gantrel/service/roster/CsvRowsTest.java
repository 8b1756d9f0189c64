package org.gantrel.service.roster;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.StringReader;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.gantrel.core.problem.Problem;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

@DisplayName("Rows of CSV")
class CsvRowsTest {

    private final List<Problem> problems = new ArrayList<>();
    private final List<Map<String, String>> rows = new ArrayList<>();

    private void read(String csv, String... columns) throws IOException {
        CsvRows.read(new StringReader(csv), List.of(columns), problems, rows::add);
    }

    @Test
    @DisplayName("have their names in the first line; commas, quotes and line ends may stand in quotes")
    void haveNames() throws IOException {
        read("\uFEFFroute,note\r\nsound,\"a, \"\"b\"\"\r\nc\"\r\n\r\nskarholm,\r\n", "route", "note");
        assertThat(problems).isEmpty();
        assertThat(rows)
                .containsExactly(
                        Map.of("route", "sound", "note", "a, \"b\"\r\nc"), Map.of("route", "skarholm", "note", ""));
    }

    @ParameterizedTest(name = "by {0}")
    @ValueSource(strings = {",", ";", "\t"})
    @DisplayName("are separated as their first line is: by commas, semicolons or tabs")
    void separators(String by) throws IOException {
        String other = by.equals(";") ? "," : ";";
        read(
                "\n\uFEFFroute%1$snote\r\nsound%1$sa%2$sb\r\nouter%1$s\"c%1$sd\"\r\n".formatted(by, other),
                "route",
                "note");
        assertThat(problems).isEmpty();
        assertThat(rows)
                .containsExactly(
                        Map.of("route", "sound", "note", "a" + other + "b"),
                        Map.of("route", "outer", "note", "c" + by + "d"));
        rows.clear();
        read("route\nsound;outer\n", "route");
        assertThat(rows).containsExactly(Map.of("route", "sound;outer"));
    }

    @Test
    @DisplayName("that are ragged, or whose column is unknown, are named by their line")
    void areNamedByLine() throws IOException {
        read("rute,include\nsound\nskarholm,yes,3\nouter,no\n", "route");
        assertThat(problems)
                .extracting(Problem::sentence)
                .containsExactly(
                        "line 1, column 1: rows: 'rute' is no column of the roster; there are route; did you mean 'route'?",
                        "line 2, column 1: rows: 1 value for 2 columns",
                        "line 3, column 1: rows: 3 values for 2 columns");
    }

    @Test
    @DisplayName("that are no CSV say so, and many faults are cut short")
    void sayWhatIsWrong() throws IOException {
        read("route\n\"open\n");
        assertThat(problems).singleElement().satisfies(problem -> assertThat(problem.message())
                .startsWith("is no CSV:"));
        problems.clear();
        read("a,b\n" + "x\n".repeat(1_000));
        assertThat(problems).hasSize(20);
    }

    @Test
    @DisplayName("lie in order under the id of their owner")
    void lieInOrder() {
        long id = RowIds.id(3_489, 1_000_000);
        assertThat(RowIds.place(id)).isEqualTo(1_000_000);
        assertThat(id).isGreaterThan(RowIds.id(3_489, 0)).isLessThan(RowIds.id(3_490, 0));
        assertThat(RowIds.values(RowIds.text(Map.of("route", "sø\"und")))).isEqualTo(Map.of("route", "sø\"und"));
    }
}
