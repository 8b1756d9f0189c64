package org.gantrel.service.work;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.time.ZoneOffset;
import java.util.zip.ZipFile;
import org.gantrel.core.action.Sql.Format;
import org.gantrel.service.durable.RoomToKeep;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

@DisplayName("A file of rows")
class RowsFileTest {

    @TempDir
    Path folder;

    private long free = 1L << 40;

    private Path write(Format format, String query) throws SQLException, IOException {
        Path file = folder.resolve("rows");
        try (var connection = DriverManager.getConnection("jdbc:h2:mem:rows");
                var statement = connection.prepareStatement(query);
                var rows = statement.executeQuery()) {
            try (OutputStream stream = new RoomToKeep(place -> free, 1 << 20).open(file)) {
                RowsFile.of(format, ZoneOffset.UTC).write(rows, "rows", stream);
            }
        }
        return file;
    }

    @ParameterizedTest
    @EnumSource(names = {"CSV", "JSON", "HTML", "XLSX"})
    @DisplayName("ends where it would take the room that others need, and is gone then")
    void leavesRoom(Format format) throws Exception {
        String query = "select x, repeat('x', 100) from system_range(1, 90000)";
        assertThat(write(format, query)).isRegularFile();
        free = 1 << 20;
        assertThatThrownBy(() -> write(format, query))
                .hasMessage("there is no room for it on the disk: at least 1 MB stay free (least-free-space)");
        assertThat(folder.resolve("rows")).doesNotExist();
    }

    @Test
    @DisplayName("for spreadsheets holds its texts in their rows, and no table of all of them")
    void holdsTextsInRows() throws Exception {
        Path file = write(Format.XLSX, "select 'week ' || x, x, null from system_range(1, 1200)");
        try (var zip = new ZipFile(file.toFile())) {
            String sheet = new String(
                    zip.getInputStream(zip.getEntry("xl/worksheets/sheet1.xml")).readAllBytes(),
                    StandardCharsets.UTF_8);
            assertThat(sheet).contains("week 1<", "week 500<", "week 501<", "week 1200<", "<v>1200</v>");
            assertThat(sheet.split("<row ")).hasSize(1202);
        }
    }

    @ParameterizedTest
    @EnumSource(names = {"XLSX", "PDF"})
    @DisplayName("for people takes values of the length that a cell has, and refuses longer ones in words")
    void refusesLongValues(Format format) throws Exception {
        assertThat(Files.size(write(format, "select repeat('x', 32767)"))).isPositive();
        assertThatThrownBy(() -> write(format, "select repeat('x', 32768)"))
                .hasMessage("a value of 32768 characters is too long for this format, which takes at most 32767;"
                        + " take .csv or .json");
    }

    @ParameterizedTest
    @EnumSource(names = {"CSV", "JSON", "HTML"})
    @DisplayName("for programs takes them")
    void takesLongValues(Format format) throws Exception {
        assertThat(Files.size(write(format, "select repeat('x', 100000)"))).isGreaterThan(100_000);
    }
}
