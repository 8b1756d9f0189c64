package org.gantrel.service.work;

import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import tools.jackson.core.JacksonException;
import tools.jackson.core.JsonParser;
import tools.jackson.core.JsonPointer;
import tools.jackson.core.JsonToken;
import tools.jackson.core.exc.StreamReadException;
import tools.jackson.databind.DeserializationFeature;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.ObjectReader;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.MissingNode;

/**
 * An answer in JSON (RFC 8259), of which only what is wanted is held: a few million brackets, which are a small text, would take
 * as much memory as there is.
 */
final class JsonAnswer {

    /** The most values that are held at a time: of one place, or of one row. */
    static final int MOST_VALUES = 100_000;

    private static final JsonMapper JSON = JsonMapper.shared();
    private static final ObjectReader PARTS = JSON.reader().without(DeserializationFeature.FAIL_ON_TRAILING_TOKENS);

    private final String text;

    /** @throws JacksonException where the text is no JSON */
    JsonAnswer(String text) {
        this.text = text;
        // all of it is looked at, and nothing held
        try (JsonParser parser = JSON.createParser(text)) {
            if (parser.nextToken() == null) {
                throw new StreamReadException(parser, "it is empty");
            }
            parser.skipChildren();
            if (parser.nextToken() != null) {
                throw new StreamReadException(parser, "there is more after its end");
            }
        }
    }

    /** What stands at a place; nothing is a {@link MissingNode}. */
    JsonNode at(String pointer) {
        try (JsonParser parser = JSON.createParser(text)) {
            if (!find(parser, pointer)) {
                return MissingNode.getInstance();
            }
            count(parser, pointer, null);
        }
        try (JsonParser parser = JSON.createParser(text)) {
            find(parser, pointer);
            return PARTS.readTree(parser);
        }
    }

    /** Goes to a place (RFC 6901), and says whether there is something. */
    private static boolean find(JsonParser parser, String pointer) {
        JsonToken token = parser.nextToken();
        for (JsonPointer left = JsonPointer.compile(pointer); !left.matches(); left = left.tail()) {
            boolean found = token == JsonToken.START_OBJECT
                    ? property(parser, left.getMatchingProperty())
                    : token == JsonToken.START_ARRAY && element(parser, left.getMatchingIndex());
            if (!found) {
                return false;
            }
            token = parser.currentToken();
        }
        return token != null;
    }

    private static boolean property(JsonParser parser, String name) {
        while (parser.nextToken() == JsonToken.PROPERTY_NAME) {
            boolean found = parser.currentName().equals(name);
            parser.nextToken();
            if (found) {
                return true;
            }
            parser.skipChildren();
        }
        return false;
    }

    private static boolean element(JsonParser parser, int index) {
        for (int i = 0; index >= 0 && parser.nextToken() != JsonToken.END_ARRAY; i++) {
            if (i == index) {
                return true;
            }
            parser.skipChildren();
        }
        return false;
    }

    /**
     * Passes over a value.
     *
     * @param names takes the names of its properties, where that is wanted
     * @throws WorkFailed where it holds more than is taken
     */
    private static void count(JsonParser parser, String pointer, Set<String> names) {
        int depth = 0;
        int values = 0;
        do {
            JsonToken token = parser.currentToken();
            if (token.isStructStart()) {
                depth++;
            } else if (token.isStructEnd()) {
                depth--;
            } else if (token == JsonToken.PROPERTY_NAME && depth == 1 && names != null) {
                names.add(parser.currentName());
            }
            if (++values > MOST_VALUES || names != null && names.size() > MOST_VALUES) {
                throw new WorkFailed("the answer holds more than " + MOST_VALUES + " values at '" + pointer
                        + "', and no more are looked into at once; save-to keeps it");
            }
        } while (depth > 0 && parser.nextToken() != null);
    }

    /** The objects of the array at a place, one by one; a field that one of them lacks is nothing. */
    TableLoad.Rows rows(String pointer) {
        Set<String> names = new LinkedHashSet<>();
        try (JsonParser parser = JSON.createParser(text)) {
            boolean found = find(parser, pointer);
            if (!found || parser.currentToken() != JsonToken.START_ARRAY) {
                throw new WorkFailed("a JSON array of objects is expected, and it is "
                        + (found ? kind(parser.currentToken()) : "missing"));
            }
            while (parser.nextToken() != JsonToken.END_ARRAY) {
                count(parser, pointer, names);
            }
        }
        JsonParser parser = JSON.createParser(text);
        find(parser, pointer);
        return new Objects(List.copyOf(names), parser);
    }

    private static String kind(JsonToken first) {
        return switch (first) {
            case START_OBJECT -> "object";
            case VALUE_STRING -> "string";
            case VALUE_TRUE, VALUE_FALSE -> "boolean";
            case VALUE_NULL -> "null";
            default -> "number";
        };
    }

    private static final class Objects implements TableLoad.Rows {

        private final List<String> names;
        private final JsonParser parser;
        private JsonNode now;

        Objects(List<String> names, JsonParser parser) {
            this.names = names;
            this.parser = parser;
        }

        @Override
        public List<String> names() {
            return names;
        }

        @Override
        public boolean next() {
            boolean more = parser.nextToken() != JsonToken.END_ARRAY;
            now = more ? PARTS.readTree(parser) : null;
            return more;
        }

        @Override
        public Object value(String name) {
            JsonNode value = now.path(name);
            if (value.isMissingNode() || value.isNull()) {
                return null;
            }
            return value.isBoolean()
                    ? (Object) value.asBoolean()
                    : value.isNumber()
                            ? value.decimalValue()
                            : value.isValueNode() ? value.asString() : value.toString();
        }
    }
}
