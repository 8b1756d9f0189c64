package org.gantrel.client.definition;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.gantrel.client.Gantrel;
import org.gantrel.client.definition.DefinitionCommand.Check;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

@DisplayName("Definition files by themselves")
class DefinitionCommandTest {

    @TempDir
    private Path folder;

    @Test
    @DisplayName("are checked without a service, all of them, each problem at its line")
    void areChecked() throws IOException {
        Path good = Files.writeString(
                folder.resolve("b.yaml"),
                """
                task: settle
                team: revenue
                does: { shell: "echo ${planned.date}" }
                ---
                lane: quay
                team: revenue
                width: 1
                """);
        Path bad = Files.writeString(folder.resolve("a.yml"), "lane: quay\nteam: revenue\nwidth: 0\nwitdh: 1\n");
        Files.writeString(folder.resolve("notes.txt"), "no definition");
        List<Path> files = DefinitionFiles.of(List.of(folder));
        assertThat(files).containsExactly(bad, good);
        assertThat(Check.look(files).read()).isEqualTo(2);
        assertThat(Check.look(files).wrong().stream().map(Check::line))
                .hasSize(2)
                .anyMatch(line -> line.startsWith(bad + ":3:8: width: "))
                .last()
                .isEqualTo(bad + ":4:1: witdh: unknown key; did you mean 'width'?");
    }

    @Test
    @DisplayName("end the command with 0, 1 where something is wrong, and 2 where there is no such file")
    void exitCodes() throws IOException {
        Path good = Files.writeString(folder.resolve("b.yaml"), "lane: quay\nteam: revenue\nwidth: 1\n");
        Path bad = Files.writeString(folder.resolve("a.yaml"), "lane: quay\n");
        assertThat(Gantrel.run("definition", "check", good.toString())).isZero();
        assertThat(Gantrel.run("definition", "check", good.toString(), bad.toString()))
                .isEqualTo(1);
        assertThat(Gantrel.run("definition", "check", folder.resolve("none").toString()))
                .isEqualTo(2);
        assertThat(Gantrel.run("definition", "schema")).isZero();
    }
}
