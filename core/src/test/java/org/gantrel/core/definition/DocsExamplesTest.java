package org.gantrel.core.definition;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.gantrel.core.problem.Problem;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

@DisplayName("The examples in the manual")
class DocsExamplesTest {

    private static final Pattern EXAMPLE = Pattern.compile("```yaml\\n(.*?)```", Pattern.DOTALL);

    /** What is said of an example that speaks of what its page does not show. */
    private static final List<String> OF_THE_REST = List.of(
            "nothing is known as", "there is no such parameter", "there is no step", "has no schedule that could");

    static Stream<String> examples() throws IOException {
        try (Stream<Path> pages = Files.list(Path.of("../docs"))) {
            return pages
                    .filter(page -> page.toString().endsWith(".md"))
                    .sorted()
                    .flatMap(page -> EXAMPLE.matcher(read(page)).results().map(found -> found.group(1)))
                    // several ways of doing something, one after the other
                    .flatMap(example -> Stream.of(example.split("(?m)^---.*$")))
                    .flatMap(example -> Stream.of(
                            example.split("(?m)^does:").length > 2
                                    ? example.split("(?m)^(?=does:)")
                                    : new String[] {example}))
                    .filter(example -> !example.replaceAll("(?m)^\\s*#.*$", "").isBlank())
                    .toList()
                    .stream();
        }
    }

    private static String read(Path page) {
        try {
            return Files.readString(page);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** An example that shows a part of a definition stands in one. */
    private static String whole(String example) {
        String first = example.replaceFirst("(?s)^(\\s*#[^\\n]*\\n|\\s)*", "").replaceFirst("(?s)\\W.*", "");
        if (DefinitionReader.KINDS.contains(first)) {
            return example;
        }
        if (first.isEmpty()) {
            return "chain: example\nteam: revenue\nsteps:\n" + example;
        }
        return "task: example\nteam: revenue\n" + (example.contains("does:") ? "" : "does: { shell: \"true\" }\n")
                + example;
    }

    @ParameterizedTest
    @MethodSource("examples")
    @DisplayName("are taken as they stand; of what is shown in part, only the rest is missing")
    void areTaken(String example) {
        List<String> problems = DefinitionReader.readAsFarAsPossible(whole(example)).problems().stream()
                .map(Problem::sentence)
                .filter(problem -> OF_THE_REST.stream().noneMatch(problem::contains))
                .toList();
        assertThat(problems).as(example).isEmpty();
    }
}
