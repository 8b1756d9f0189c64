package org.gantrel.core.definition;

import java.util.Arrays;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;

/** What shapes the values of the keys of definitions may have. */
final class DefinitionShapes {

    /** A shape, in the order in which a schema names them. */
    enum Shape {
        /** A single one: a text, a number, a date, yes or no. */
        VALUE,
        /** A list of single ones. */
        LIST,
        MAPPING,
        /** A list of mappings. */
        MAPPINGS,
        ANYTHING
    }

    private static final Map<?, ?> SAID = DefinitionWords.resource("shapes.yaml");

    private DefinitionShapes() {}

    /** The shapes that a key's value may have at a place; a place such as {@code task.does+request} stands for itself. */
    static Set<Shape> of(String place, String key) {
        Object said = SAID.get(place + " " + key);
        if (said == null) {
            said = SAID.get(key);
        }
        Set<Shape> shapes = new TreeSet<>();
        if (said == null) {
            shapes.add(Shape.VALUE);
        } else {
            Arrays.stream(said.toString().split(" or "))
                    .map(word -> Shape.valueOf(word.toUpperCase(Locale.ROOT)))
                    .forEach(shapes::add);
        }
        return shapes;
    }
}
