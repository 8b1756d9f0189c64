package org.gantrel.core.definition;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.gantrel.core.definition.DefinitionShapes.Shape;
import org.gantrel.core.definition.DefinitionWords.Word;
import org.gantrel.core.job.Job;

/**
 * The JSON Schema (draft 2020-12) of a definition, for editors and checks outside of Gantrel. It knows the keys, their help, the
 * shapes of their values and the words that some of them take. It refuses nothing that is taken; what a text means (a phrase, an
 * expression, a duration) and how things go together is checked by {@link DefinitionReader} alone.
 */
public final class DefinitionSchema {

    private static final String REQUIRED = "required";
    private static final String DESCRIPTION = "description";
    /** What stands for yes and no where a key takes the two. */
    private static final List<Object> YES_OR_NO = List.of(true, false, "yes", "no", "on", "off", "true", "false");

    private static final Map<String, Object> SINGLE = Map.of("type", List.of("string", "number", "boolean"));

    private static final Map<String, Object> DOCUMENT = new DefinitionSchema().document();

    private final Map<String, List<Word>> places = DefinitionWords.all();
    private final Map<String, Object> shared = new LinkedHashMap<>();
    private final Map<Object, String> named = new LinkedHashMap<>();

    private DefinitionSchema() {}

    /** The schema of one document of a definition file, as maps, lists and texts that any writer of JSON writes. */
    public static Map<String, Object> all() {
        return DOCUMENT;
    }

    private Map<String, Object> document() {
        Map<String, Object> document = new LinkedHashMap<>();
        document.put("$schema", "https://json-schema.org/draft/2020-12/schema");
        document.put("title", "A definition of Gantrel");
        document.put(
                DESCRIPTION,
                "One document of a definition file. Its first key says what it is; what follows is its name.");
        document.putAll(mapping(""));
        document.put("$defs", shared);
        return document;
    }

    /** What may stand in a mapping at a place; where one of its keys decides that, what stands beside that one. */
    private Map<String, Object> mapping(String place) {
        List<Word> words = places.get(place);
        List<Word> deciding = words.stream()
                .filter(word -> places.containsKey(beside(place, word)))
                .toList();
        if (deciding.isEmpty()) {
            return closed(place, words);
        }
        Map<String, Object> schema = new LinkedHashMap<>();
        schema.put("type", "object");
        Map<String, Object> first = new LinkedHashMap<>();
        words.forEach(word -> first.put(word.word(), Map.of(DESCRIPTION, word.help())));
        schema.put("properties", first);
        schema.put("oneOf", deciding.stream().map(word -> given(place, word)).toList());
        schema.put(
                "allOf",
                deciding.stream()
                        .map(word -> Map.of("if", given(place, word), "then", reference(beside(place, word))))
                        .toList());
        return schema;
    }

    private static String beside(String place, Word word) {
        return place.isEmpty() ? word.word() : place + "+" + word.word();
    }

    /** That a key decides. Beside one that decides and may have it, it does not: a digest may be about a chain. */
    private Map<String, Object> given(String place, Word word) {
        List<Object> others = places.get(place).stream()
                .filter(other -> place.isEmpty() && !other.equals(word))
                .filter(other -> places.get(other.word()).stream()
                        .anyMatch(each -> each.word().equals(word.word())))
                .<Object>map(other -> Map.of(REQUIRED, List.of(other.word())))
                .toList();
        Map<String, Object> given = new LinkedHashMap<>();
        given.put(REQUIRED, List.of(word.word()));
        if (!others.isEmpty()) {
            given.put("not", Map.of("anyOf", others));
        }
        return given;
    }

    /** A mapping with these keys and no others. */
    private Map<String, Object> closed(String place, List<Word> words) {
        Map<String, Object> schema = new LinkedHashMap<>();
        schema.put("type", "object");
        Map<String, Object> properties = new LinkedHashMap<>();
        words.forEach(word -> properties.put(word.word(), property(place, word)));
        if (DefinitionReader.KINDS.contains(place)) {
            schema.put(REQUIRED, List.of(place, "team"));
        }
        schema.put("properties", properties);
        schema.put("additionalProperties", false);
        return schema;
    }

    private Map<String, Object> property(String place, Word word) {
        Map<String, Object> schema = new LinkedHashMap<>();
        schema.put(DESCRIPTION, word.help());
        Set<Shape> of = DefinitionShapes.of(place, word.word());
        boolean mixed = of.contains(Shape.LIST) && of.contains(Shape.MAPPINGS);
        List<Map<String, Object>> shapes = new ArrayList<>();
        if (mixed) {
            shapes.add(array(Map.of("anyOf", List.of(single(word), within(place, word)))));
        }
        of.stream()
                .filter(shape -> !mixed || shape != Shape.LIST && shape != Shape.MAPPINGS)
                .forEach(shape -> shapes.add(shape(shape, place, word)));
        if (shapes.size() == 1) {
            schema.putAll(shapes.get(0));
        } else {
            schema.put("anyOf", shapes);
        }
        return schema;
    }

    private Map<String, Object> shape(Shape shape, String place, Word word) {
        boolean beginsIt = DefinitionReader.KINDS.contains(place);
        return switch (shape) {
            case VALUE -> beginsIt && List.of(place, "team").contains(word.word()) ? name() : single(word);
            case LIST -> array(single(word));
            case MAPPING -> within(place, word);
            case MAPPINGS -> array(within(place, word));
            case ANYTHING -> Map.of();
        };
    }

    private static Map<String, Object> array(Map<String, Object> items) {
        return Map.of("type", "array", "items", items);
    }

    private static Map<String, Object> name() {
        return Map.of("type", "string", "pattern", "^" + Job.NAME + "$", "maxLength", Job.LONGEST_NAME);
    }

    private static Map<String, Object> single(Word word) {
        if (word.values().equals(List.of("yes", "no"))) {
            return Map.of("enum", YES_OR_NO);
        }
        return word.values().isEmpty() ? SINGLE : Map.of("enum", word.values());
    }

    /** The mapping under a key; one whose keys people give takes any, or those that their place describes. */
    private Map<String, Object> within(String place, Word word) {
        String inner = place.replaceFirst("\\+.*", "") + "." + word.word();
        if (places.containsKey(inner)) {
            return reference(inner);
        }
        String each = inner + ".*";
        return places.containsKey(each)
                ? Map.of("type", "object", "additionalProperties", reference(each))
                : Map.of("type", "object");
    }

    /** Mappings that are alike at several places are described once. */
    private Map<String, Object> reference(String place) {
        boolean decided = place.contains("+") || DefinitionReader.KINDS.contains(place);
        Map<String, Object> schema = decided ? closed(place, places.get(place)) : mapping(place);
        String name = named.computeIfAbsent(schema, ownPlace -> place.replace("*", "each"));
        shared.putIfAbsent(name, schema);
        return Map.of("$ref", "#/$defs/" + name);
    }
}
