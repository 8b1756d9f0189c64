package org.gantrel.core.definition;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Stream;
import org.gantrel.core.definition.DefinitionWords.Word;
import org.gantrel.core.event.EventType;
import org.gantrel.core.problem.Problem;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

@DisplayName("The words that editors complete")
class DefinitionWordsTest {

    private static final String KNOWN = "unknown key; known here: ";
    /** Where one key of some is to stand, these are said to be missing before others are looked at. */
    private static final List<String> ONE_OF = List.of(
            "is missing what is done: one of ",
            "a gate asks for one thing: ",
            "a receiver is one of: ",
            "rows come from one of ");

    private static final Set<String> LISTS = Set.of(
            "schedules",
            "steps",
            "finally",
            "gates",
            "triggers",
            "checks",
            "after",
            "seasons",
            "closed",
            "open",
            "covers",
            "then",
            "outputs");

    /** What has to stand beside a key for it to be read at all. */
    private static final Map<String, String> NEEDED = Map.of(
            "to-table", "sql: select 1, ",
            "from", "command: [ x ], ",
            "limit", "\"on\": run.ended, ",
            "hours", "\"on\": run.ended, ");

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
        if (place.endsWith(".triggers")) {
            // an editor offers what any event may have
            return EventType.words().stream()
                    .flatMap(event -> told(place, "\"on\": " + event).stream())
                    .distinct()
                    .toList();
        }
        String[] decided = place.split("\\+");
        return told(decided[0], decided.length == 1 ? "" : decided[1] + ": x");
    }

    private static List<String> told(String place, String beside) {
        String asked = asking(place.split("\\."), beside);
        return DefinitionReader.readAsFarAsPossible(asked).problems().stream()
                .map(Problem::message)
                .flatMap(message -> Stream.concat(Stream.of(KNOWN), ONE_OF.stream())
                        .filter(message::startsWith)
                        .map(begin -> message.substring(begin.length()).replaceFirst(";.*", "")))
                .findFirst()
                .map(list -> Arrays.asList(list.split(", ")))
                .orElseThrow(() -> new AssertionError("nothing is read at " + place + ":\n" + asked));
    }

    private static String asking(String[] keys, String beside) {
        return around(keys, (beside.isEmpty() ? "" : beside + ", ") + "\"0000000000000000\": x");
    }

    /** A definition in which this stands at a place, which is given by its keys. */
    static String around(String[] keys, String content) {
        if (keys.length == 1) {
            return "{ " + keys[0] + ": some, " + (content.startsWith("\"team\"") ? "" : "team: some, ") + content
                    + " }\n";
        }
        String within = "{ " + content + " }";
        for (int i = keys.length - 1; i > 0; i--) {
            String key = keys[i].equals("*") ? "some" : keys[i];
            String needed = NEEDED.getOrDefault(keys[i], "");
            within = "{ " + (keys[0].equals("roster") ? "" : needed) + key + ": "
                    + (LISTS.contains(keys[i]) ? "[ " + within + " ]" : within) + " }";
        }
        return keys[0] + ": some\nteam: some\n" + within.substring(2, within.length() - 2) + "\n";
    }
}
