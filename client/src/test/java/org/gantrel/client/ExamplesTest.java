package org.gantrel.client;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatCode;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import picocli.CommandLine;

@DisplayName("The examples of commands, in the help and in the manual")
class ExamplesTest {

    private static final Pattern BLOCK = Pattern.compile("```(?:sh|bash|console)?\\n(.*?)```", Pattern.DOTALL);
    private static final Pattern WORD = Pattern.compile("(?:\"[^\"]*\"|'[^']*'|[^\\s\"'])+");

    private static Stream<String> helps(CommandLine command) {
        return Stream.concat(
                lines(String.join("\n", command.getCommandSpec().usageMessage().footer())),
                command.getSubcommands().values().stream().flatMap(ExamplesTest::helps));
    }

    /** Lines, of which one that ends so goes on in the next. */
    private static Stream<String> lines(String text) {
        return text.replaceAll("\\\\\\n\\s*", "").lines();
    }

    private static Stream<String> blocks(Path page) {
        try {
            return BLOCK.matcher(Files.readString(page)).results().flatMap(found -> found.group(1)
                    .lines());
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    static Stream<String> examples() throws IOException {
        try (Stream<Path> pages = Files.list(Path.of("../docs"))) {
            List<String> lines = Stream.concat(
                            helps(new CommandLine(new Gantrel())),
                            Stream.concat(
                                            pages.filter(page -> page.toString().endsWith(".md")),
                                            Stream.of(Path.of("../README.md")))
                                    .flatMap(ExamplesTest::blocks))
                    // what stands far behind a command, or behind a sign, explains it
                    .map(line -> line.strip().split("\\s{2,}|\\s#\\s")[0])
                    .flatMap(line -> Stream.of(line.split("\\s(?:[|>&]+|<)\\s?|;\\s")))
                    .map(part -> part.strip().replaceFirst("^(\\$ )?(\\S+=\\S+ )*(bin/)?gantrel ", "gantrel "))
                    .filter(part -> part.startsWith("gantrel ") && !part.startsWith("gantrel serve"))
                    .distinct()
                    .toList();
            assertThat(lines).hasSizeGreaterThan(100);
            return lines.stream();
        }
    }

    @ParameterizedTest(name = "{0}")
    @MethodSource("examples")
    @DisplayName("are understood as they stand")
    void areUnderstood(String line) {
        CommandLine command = new CommandLine(new Gantrel()).setCaseInsensitiveEnumValuesAllowed(true);
        String[] arguments = WORD.matcher(line)
                .results()
                .map(word -> word.group().replaceAll("[\"']", ""))
                .skip(1)
                .toArray(String[]::new);
        assertThatCode(() -> command.parseArgs(arguments)).doesNotThrowAnyException();
    }
}
