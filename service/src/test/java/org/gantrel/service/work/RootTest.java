package org.gantrel.service.work;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

@DisplayName("A root")
class RootTest {

    @TempDir
    private Path folder;

    @ParameterizedTest(name = "is left by {0}")
    @ValueSource(strings = {"..", "../beside", "a/../../b", "/etc/passwd", "a/b/../../../c"})
    void isLeftBy(String name) {
        assertThatThrownBy(() -> new Root(folder).resolve(name))
                .isInstanceOf(WorkFailed.class)
                .hasMessageContaining("leaves " + folder);
    }

    @ParameterizedTest(name = "holds {0}")
    @ValueSource(strings = {"a.csv", "a/b.csv", "a/../b.csv", "..a", "a b"})
    void holds(String name) {
        assertThat(new Root(folder).resolve(name).toString()).startsWith(folder + "/");
    }

    @Test
    @DisplayName("is left by a link that points out of it, and not by one that stays within")
    void isLeftByALink() throws IOException {
        Path root = Files.createDirectory(folder.resolve("root"));
        Path outside = Files.writeString(folder.resolve("outside"), "x");
        Path inside = Files.writeString(root.resolve("inside"), "x");
        Path out = Files.createSymbolicLink(root.resolve("out"), outside);
        Path in = Files.createSymbolicLink(root.resolve("in"), inside);
        assertThat(new Root(root).within(in)).isEqualTo(in);
        assertThatThrownBy(() -> new Root(root).within(out)).hasMessageContaining("by a link");
    }
}
