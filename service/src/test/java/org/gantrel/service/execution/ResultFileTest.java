package org.gantrel.service.execution;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

@DisplayName("The file of a command's results")
class ResultFileTest {

    @TempDir
    private Path root;

    private RunFolder folder;

    @BeforeEach
    void make() throws IOException {
        folder = RunFolder.of(root, 7);
        Files.createDirectories(folder.path());
    }

    private Path prepare(Map<String, Path> given) throws IOException {
        return Path.of(ResultFile.prepare(folder, Optional.empty(), given).get(ResultFile.VARIABLE));
    }

    @Test
    @DisplayName("comes with copies of the files that a step is given, which the step may do with as it likes")
    void bringsFiles() throws IOException {
        Path output = Files.writeString(root.resolve("sales of today.csv"), "kept");
        Map<String, String> told = ResultFile.prepare(folder, Optional.empty(), Map.of("SALES", output));
        Path copy = Path.of(told.get("SALES"));
        assertThat(copy).hasContent("kept").hasFileName("sales of today.csv");
        Files.writeString(copy, "changed");
        assertThat(output).hasContent("kept");
    }

    @Test
    @DisplayName("holds one JSON object; what is nested stays JSON, and null is nothing")
    void holdsAnObject() throws IOException {
        Path file = prepare(Map.of());
        assertThat(ResultFile.read(folder)).isEqualTo(ResultFile.Left.NOTHING);
        Files.writeString(
                file,
                "{ \"total\": 12.50, \"route\": \"sound\", \"fine\": true, \"gone\": null, \"rows\": [ { \"n\": 1 } ] }");
        ResultFile.Left left = ResultFile.read(folder);
        assertThat(left.trouble()).isEmpty();
        assertThat(left.values())
                .containsEntry("route", "sound")
                .containsEntry("fine", "true")
                .containsEntry("rows", "[{\"n\":1}]")
                .doesNotContainKey("gone");
        assertThat(Double.parseDouble(left.values().get("total"))).isEqualTo(12.5);
        Files.writeString(file, "  \n");
        assertThat(ResultFile.read(folder)).isEqualTo(ResultFile.Left.NOTHING);
    }

    @ParameterizedTest(name = "{0}: {1}")
    @CsvSource(
            delimiter = '|',
            value = {
                "[ 1, 2 ] | a JSON object is expected",
                "12 | a JSON object is expected",
                "{ total: 12 } | no JSON",
                "{ \"total\": | no JSON"
            })
    void isNotTaken(String text, String trouble) throws IOException {
        Files.writeString(prepare(Map.of()), text);
        assertThat(ResultFile.read(folder).trouble()).contains(trouble);
        assertThat(ResultFile.read(folder).values()).isEmpty();
    }

    @Test
    @DisplayName("is read only so far, and never by way of a link")
    void isBounded() throws IOException {
        Path file = prepare(Map.of());
        Files.writeString(file, "{ \"a\": \"" + "x".repeat(RunFolder.LARGEST_RESULT) + "\" }");
        assertThat(ResultFile.read(folder).trouble()).contains("more than " + RunFolder.LARGEST_RESULT + " bytes");
        Files.delete(file);
        Files.createSymbolicLink(file, Files.writeString(root.resolve("elsewhere"), "{ \"secret\": 1 }"));
        assertThat(ResultFile.read(folder).values()).isEmpty();
        assertThat(ResultFile.read(folder).trouble()).contains("is a link");
        Files.delete(file);
        Files.createDirectory(file);
        assertThat(ResultFile.read(folder)).isEqualTo(ResultFile.Left.NOTHING);
    }
}
