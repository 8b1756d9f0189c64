package org.gantrel.core.definition;

import static org.assertj.core.api.Assertions.assertThat;

import com.networknt.schema.Error;
import com.networknt.schema.Schema;
import com.networknt.schema.SchemaRegistry;
import com.networknt.schema.SpecificationVersion;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.gantrel.core.definition.DefinitionShapes.Shape;
import org.gantrel.core.definition.DefinitionWords.Word;
import org.gantrel.core.event.EventType;
import org.gantrel.core.problem.Problem;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.MethodSource;
import org.snakeyaml.engine.v2.api.Load;
import org.snakeyaml.engine.v2.api.LoadSettings;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

@DisplayName("The JSON Schema of definitions")
class DefinitionSchemaTest {

    private static final JsonMapper JSON = JsonMapper.builder().build();
    private static final Schema SCHEMA = SchemaRegistry.withDefaultDialect(SpecificationVersion.DRAFT_2020_12)
            .getSchema(JSON.<JsonNode>valueToTree(DefinitionSchema.all()));

    /** A value of each shape, of which none is right anywhere but by chance. */
    private static final Map<Shape, String> SHAPES = Map.of(
            Shape.VALUE, "zzz",
            Shape.LIST, "[ zzz ]",
            Shape.MAPPING, "{ zzz: zzz }",
            Shape.MAPPINGS, "[ { zzz: zzz } ]");

    private static final Pattern OTHER_SHAPE =
            Pattern.compile("a (single value|list|mapping \\(key: value\\)) is expected.*|a list holds names alone.*"
                    + "|after how long, and whom.*");

    /** What is right for keys that decide what may stand beside them, where an address would not be. */
    private static final Map<String, String> DECIDING = Map.of(
            "load", "load: 1.5",
            "free", "free: 1 GB",
            "between", "between: \"01:00\"",
            "command", "command: [ x ]",
            "files", "files: list",
            "outside", "outside: { }");

    private static final Map<String, String> BESIDE = Map.of(
            "calendar.days to", "from: 2026-01-01",
            "calendar.days from", "to: 2026-01-01",
            "calendar.days on-weekend", "\"on\": 25 December",
            "calendar.seasons label", "from: 04-15, to: 06-15");

    private static List<String> wrong(String document) {
        Object read = new Load(LoadSettings.builder().build()).loadFromString(document);
        return SCHEMA.validate(JSON.valueToTree(read)).stream()
                .map(Error::toString)
                .toList();
    }

    static Stream<String> examples() throws IOException {
        List<String> documents = new ArrayList<>();
        for (Path folder : List.of(Path.of("../demo/definitions"), Path.of("../docs"))) {
            try (Stream<Path> files = Files.list(folder)) {
                files.filter(Files::isRegularFile).forEach(file -> documents.addAll(documentsOf(file)));
            }
        }
        assertThat(documents).hasSizeGreaterThan(60);
        return documents.stream();
    }

    /** The documents of a file of definitions, or those of the examples in a page, that are taken. */
    private static List<String> documentsOf(Path file) {
        try {
            String text = Files.readString(file);
            Stream<String> parts = file.toString().endsWith(".yaml")
                    ? Stream.of(text)
                    : Pattern.compile("```yaml\\n(.*?)```", Pattern.DOTALL)
                            .matcher(text)
                            .results()
                            .map(found -> found.group(1));
            return parts.flatMap(part -> Stream.of(part.split("(?m)^---.*$")))
                    .filter(part -> !part.isBlank()
                            && DefinitionReader.readAsFarAsPossible(part)
                                    .problems()
                                    .isEmpty())
                    .toList();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    @ParameterizedTest
    @MethodSource("examples")
    @DisplayName("takes what is taken")
    void takes(String document) {
        assertThat(wrong(document)).isEmpty();
    }

    @ParameterizedTest(name = "{0}")
    @CsvSource(
            delimiter = '|',
            textBlock =
                    """
            task: x                                                                           | team
            team: revenue                                                                     | one and only one
            { task: x, team: t, does: { shell: a }, lane: y }                                 | lane
            { task: Not A Name, team: t }                                                     | pattern
            { task: x, team: t, does: { shell: a, expect: [ 200 ] } }                         | expect
            { task: x, team: t, does: { shell: a, command: [ b ] } }                          | one and only one
            { task: x, team: t, does: { command: ls } }                                       | array
            { task: x, team: t, gates: [ { free: 1 GB, settled: 1 min } ] }                   | settled
            { task: x, team: t, gate-patience: { then: wait } }                               | enum
            { task: x, team: t, schedules: [ { name: n, when: noon, calender: c } ] }         | calender
            { task: x, team: t, schedules: { name: n } }                                      | array
            { task: x, team: t, parameters: { day: { type: dat } } }                          | enum
            { chain: x, team: t, steps: [ { job: a, go-on: maybe } ] }                        | enum
            { chain: x, team: t, steps: [ { job: a, approval: { by: { role: chief } } } ] }   | enum
            { notification: x, team: t, to: [ { duty: night, role: manager } ] }              | role
            { roster: x, team: t, columns: [ a ], rows: [ 1, 2 ] }                            | object
            """)
    @DisplayName("refuses a wrong key, a wrong shape and a wrong word, and says which")
    void refuses(String document, String named) {
        assertThat(wrong(document)).anySatisfy(said -> assertThat(said).contains(named));
    }

    static Stream<String> places() {
        return DefinitionWords.all().keySet().stream().filter(place -> !place.isEmpty());
    }

    @ParameterizedTest(name = "{0}")
    @MethodSource("places")
    @DisplayName(
            "knows of each key which shapes of values are read, and of each that takes some words that no other is taken")
    void knowsTheShapes(String place) {
        for (Word word : DefinitionWords.all().get(place)) {
            String key = word.word();
            boolean beginsIt = DefinitionReader.KINDS.contains(place) && key.equals(place);
            boolean another = place.matches("task.does\\+(command|shell)") && key.matches("command|shell");
            // what is wrong with what decides is said before others are looked at
            boolean decides = DefinitionWords.all().containsKey(place + "+" + key);
            if (beginsIt || decides || another && !place.endsWith(key)) {
                continue;
            }
            for (var shape : SHAPES.entrySet()) {
                List<String> said = said(texts(place, key, value(word, shape)), key);
                boolean read = said.stream()
                        .noneMatch(message -> OTHER_SHAPE.matcher(message).matches());
                Set<Shape> known = DefinitionShapes.of(place, key);
                assertThat(known.contains(shape.getKey()) || known.contains(Shape.ANYTHING))
                        .as("%s at %s as %s: %s", key, place, shape.getKey(), said)
                        .isEqualTo(read);
            }
            if (!word.values().isEmpty()) {
                assertThat(said(texts(place, key, "zzz"), key))
                        .as("%s at %s", key, place)
                        .isNotEmpty();
            }
        }
    }

    private static String value(Word word, Map.Entry<Shape, String> shape) {
        boolean ofWords = shape.getKey() == Shape.VALUE && !word.values().isEmpty();
        return ofWords ? "\"" + word.values().get(0) + "\"" : shape.getValue();
    }

    /** What the reader complains of at a key. */
    private static List<String> said(List<String> texts, String key) {
        return texts.stream()
                .flatMap(text -> DefinitionReader.readAsFarAsPossible(text).problems().stream())
                .filter(problem -> problem.field().matches("(.*\\.)?" + key + "(\\[0])?"))
                .map(Problem::message)
                .toList();
    }

    /** Definitions in which a key has a value, with what has to stand beside it to be read. */
    private static List<String> texts(String place, String key, String value) {
        return besides(place, key).stream()
                .map(beside -> DefinitionWordsTest.around(
                        place.replaceFirst("\\+.*", "").split("\\."),
                        (beside.isEmpty() ? "" : beside + ", ") + "\"" + key + "\": " + value))
                .toList();
    }

    /** What has to stand beside a key for it to be read, each possibility by itself. */
    private static List<String> besides(String place, String key) {
        String[] decided = place.split("\\+");
        if (decided.length > 1 && !decided[1].equals(key)) {
            return List.of(DECIDING.getOrDefault(decided[1], decided[1] + ": \"http://localhost/\""));
        }
        if (place.endsWith(".triggers") && !key.equals("on")) {
            return EventType.words().stream().map(event -> "\"on\": " + event).toList();
        }
        if (List.of("of", "with-chains", "within", "then").contains(key) && place.matches("chain.(steps|finally)")) {
            return List.of("meeting: bank");
        }
        if (place.endsWith(".*") && !key.equals("type")) {
            return List.of("type: " + (key.equals("of") ? "choice" : "number"));
        }
        return List.of(BESIDE.getOrDefault(place.replaceFirst("open|closed", "days") + " " + key, ""));
    }

    @Test
    @DisplayName("describes each place that has keys of its own")
    void isWhole() {
        assertThat((Map<?, ?>) DefinitionSchema.all().get("$defs")).hasSizeGreaterThan(40);
    }
}
