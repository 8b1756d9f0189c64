package org.gantrel.service.journal;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Set;
import java.util.TreeSet;
import java.util.regex.MatchResult;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.gantrel.core.event.EventType;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("News in the journal")
class NewsToPagesTest {

    private static final Path TOPICS = Path.of("..", "console", "src", "api", "topics.ts");
    private static final Pattern WRITTEN = Pattern.compile("(?:write|tell)\\(\\s*\"gantrel\\.([a-z]+)\\.");
    private static final Pattern HEARD = Pattern.compile("^ {2}\"([a-z]+)\\.changed\":", Pattern.MULTILINE);

    private static Stream<String> found(Pattern pattern, Path file) {
        try {
            return pattern.matcher(Files.readString(file))
                    .results()
                    .map(MatchResult::group)
                    .map(text -> pattern.matcher(text).replaceFirst("$1"));
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    @Test
    @DisplayName("is heard by the console, whatever it is about: no page stays as it was beside it")
    void isHeard() throws IOException {
        Set<String> about = new TreeSet<>();
        EventType.words().forEach(word -> about.add(word.split("\\.")[0]));
        try (Stream<Path> sources = Files.walk(Path.of("src", "main", "java"))) {
            sources.filter(file -> file.toString().endsWith(".java"))
                    .forEach(file -> found(WRITTEN, file).forEach(about::add));
        }
        assertThat(about).contains("run", "fault", "approval");
        assertThat(found(HEARD, TOPICS).collect(Collectors.toSet())).containsAll(about);
    }
}
