package org.gantrel.client;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

@DisplayName("Definition files by themselves")
class DefinitionCommandTest {

    @TempDir
    private Path folder;

    private final StubService service = new StubService(path -> new StubService.Answer(500, "{}", ""));

    @AfterEach
    void close() {
        assertThat(service.asked()).isEmpty();
        service.close();
    }

    @Test
    @DisplayName("are checked without a service, all of them, each problem at its line")
    void areChecked() throws IOException {
        Path good = Files.writeString(
                folder.resolve("b.yaml"),
                """
                task: settle
                team: revenue
                does: { shell: "true" }
                ---
                lane: quay
                team: revenue
                width: 1
                """);
        assertThat(Gantrel.run("definition", "check", good.toString())).isZero();
        assertThat(service.said())
                .contains("2 definitions in 1 file: nothing is wrong")
                .contains("was not looked at");
        Path bad = Files.writeString(folder.resolve("a.yml"), "lane: quay\nteam: revenue\nwidth: 0\nwitdh: 1\n");
        assertThat(Gantrel.run("definition", "check", folder.toString())).isEqualTo(1);
        assertThat(service.printed().lines())
                .hasSize(2)
                .allMatch(line -> line.startsWith(bad + ":"))
                .anyMatch(line -> line.endsWith(":4:1: witdh: unknown key; did you mean 'width'?"));
        assertThat(Gantrel.run(
                        "definition", "check", folder.resolve("none.yaml").toString()))
                .isEqualTo(2);
    }

    @Test
    @DisplayName("have a schema, which is printed as it is")
    void haveASchema() {
        assertThat(Gantrel.run("definition", "schema")).isZero();
        JsonNode schema = JsonMapper.builder().build().readTree(service.printed());
        assertThat(schema.path("$defs").path("lane").path("required")).hasSize(2);
    }
}
