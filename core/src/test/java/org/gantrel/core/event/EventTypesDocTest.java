package org.gantrel.core.event;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("The list of event types in the docs")
class EventTypesDocTest {

    private static final Path DOC = Path.of("..", "docs", "events.md");
    private static final List<String> ALWAYS = List.of("id", "type", "at", "team");

    private static List<String> table() {
        var lines = new ArrayList<String>();
        lines.add("| Type | What | Fields |");
        lines.add("|---|---|---|");
        for (EventType type : EventType.values()) {
            String fields = type.fields().stream()
                    .filter(field -> !ALWAYS.contains(field.name()))
                    .map(field -> "`" + field.name() + "` " + field.about())
                    .collect(Collectors.joining("; "));
            lines.add("| `%s` | %s | %s |".formatted(type.word(), type.sentence(), fields));
        }
        return lines;
    }

    @Test
    @DisplayName("is that of the code")
    void isThatOfTheCode() throws IOException {
        List<String> wanted = table();
        if (Boolean.getBoolean("write.docs")) {
            String before = Files.readString(DOC).split("\\| Type \\|")[0];
            Files.writeString(DOC, before + String.join("\n", wanted) + "\n");
        }
        assertThat(Files.readAllLines(DOC)).containsSubsequence(wanted);
    }
}
