package org.gantrel.core.definition;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Arrays;
import java.util.List;
import java.util.stream.Stream;
import org.gantrel.core.definition.DefinitionWords.Word;
import org.gantrel.core.problem.Problem;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

@DisplayName("The words that editors complete")
class DefinitionWordsTest {

    private static final String KNOWN = "unknown key; known here: ";

    static Stream<String> places() {
        return DefinitionWords.all().keySet().stream().filter(place -> !place.isEmpty());
    }

    @ParameterizedTest(name = "{0}")
    @MethodSource("places")
    @DisplayName("are just those that are read at their place, each with its help")
    void areThoseThatAreRead(String place) {
        List<Word> words = DefinitionWords.all().get(place);
        assertThat(words).allSatisfy(word -> assertThat(word.help()).hasSizeGreaterThan(12));
        assertThat(words.stream().map(Word::word)).containsExactlyInAnyOrderElementsOf(known(place));
    }

    /** What the reader says is known there, asked with a key that is none. */
    private static List<String> known(String place) {
        String[] keys = place.split("\\.");
        String list = DefinitionReader.readAsFarAsPossible(asking(keys)).problems().stream()
                .map(Problem::message)
                .filter(message -> message.startsWith(KNOWN))
                .findFirst()
                .orElseThrow(() -> new AssertionError("nothing is read at " + place));
        return Arrays.asList(list.substring(KNOWN.length()).split(", "));
    }

    private static String asking(String[] keys) {
        String nothing = "\"0000000000000000\": x";
        if (keys.length == 1) {
            return keys[0] + ": some\nteam: some\n" + nothing + "\n";
        }
        boolean list = List.of("schedules", "steps", "finally").contains(keys[1]);
        String within = keys.length == 3 ? "{ some: { " + nothing + " } }" : "{ " + nothing + " }";
        return keys[0] + ": some\nteam: some\n" + keys[1] + ": " + (list ? "[ " + within + " ]" : within) + "\n";
    }
}
