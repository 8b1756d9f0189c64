package org.gantrel.client.output;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayOutputStream;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

@DisplayName("A printed list")
class PrinterTest {

    private static final List<Column> COLUMNS = List.of(
            Column.of("JOB", "job"),
            Column.of("STATE", "state"),
            Column.duration("TOOK", "took"),
            Column.of("MESSAGE", "message"));

    private final ByteArrayOutputStream printed = new ByteArrayOutputStream();
    private final ByteArrayOutputStream said = new ByteArrayOutputStream();
    private final PrintStream error = System.err;
    private final Printer printer = new Printer(new PrintStream(printed, true, StandardCharsets.UTF_8), false);

    @BeforeEach
    void listen() {
        System.setErr(new PrintStream(said, true, StandardCharsets.UTF_8));
    }

    @AfterEach
    void leave() {
        System.setErr(error);
    }

    private String print(Format format, String... rows) {
        List<JsonNode> nodes = List.of(rows).stream()
                .map(row -> new JsonMapper().readTree(row))
                .toList();
        printer.list(nodes, COLUMNS, format, "there is nothing");
        return printed.toString(StandardCharsets.UTF_8);
    }

    @Test
    @DisplayName("as a table has columns as wide as they must be, and one line a row")
    void asATable() {
        String table = print(
                Format.table,
                "{\"job\":\"settle-tickets\",\"state\":\"failed\",\"took\":\"PT61S\",\"message\":\"two\\nlines\"}",
                "{\"job\":\"a\",\"state\":\"succeeded\"}");
        assertThat(table.lines())
                .containsExactly(
                        "JOB             STATE      TOOK       MESSAGE",
                        "settle-tickets  failed     1 min 1 s  two lines",
                        "a               succeeded");
        assertThat(table).doesNotContain("\u001b");
    }

    @Test
    @DisplayName("as a table cuts what is very long")
    void cutsWhatIsLong() {
        assertThat(print(Format.table, "{\"job\":\"" + "x".repeat(200) + "\"}")
                        .lines()
                        .toList()
                        .get(1))
                .hasSize(60)
                .endsWith("…");
    }

    @Test
    @DisplayName("without rows prints no data, and says so beside it")
    void withoutRows() {
        assertThat(print(Format.table)).isEmpty();
        assertThat(said.toString(StandardCharsets.UTF_8)).isEqualTo("there is nothing" + System.lineSeparator());
        assertThat(print(Format.json).strip()).isEqualTo("[ ]");
    }

    @ParameterizedTest(name = "as CSV writes {0} as {1}")
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '~',
            value = {
                "plain              | plain",
                "a,b                | \"a,b\"",
                "say \\\"hi\\\"     | \"say \"\"hi\"\"\"",
                "two\\nlines        | \"two\\nlines\"",
                "=1+1               | '=1+1",
                "@cmd               | '@cmd",
                "-rf                | '-rf",
                "-5                 | -5"
            })
    void asCsv(String given, String written) {
        String csv = print(Format.csv, "{\"job\":\"" + given + "\",\"took\":\"PT61S\"}");
        assertThat(csv).isEqualTo("JOB,STATE,TOOK,MESSAGE\r\n" + written.replace("\\n", "\n") + ",,PT61S,\r\n");
    }
}
