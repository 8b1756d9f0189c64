package org.gantrel.service.trigger;

import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.Locale;
import java.util.Map;
import java.util.function.Function;
import org.gantrel.service.refusal.Refusal;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * What a call from outside says: an object of JSON (RFC 8259), the fields of a form (HTML, 4.10.21), or an event as
 * CloudEvents 1.0 carries it over HTTP, structured or binary.
 *
 * @param source who says it, of an event
 * @param subject what it is about, of an event
 * @param kind the type of an event
 * @param key what makes it one and the same when it comes twice; empty where nothing does
 * @param values what it says by name; {@code order.id} for what lies deeper
 */
record CallSaid(String source, String subject, String kind, String key, Map<String, String> values) {

    private static final JsonMapper JSON = JsonMapper.shared();
    private static final int MOST_VALUES = 200;
    private static final int MOST_CHARACTERS = 15_000;
    private static final int LONGEST_ATTRIBUTE = 500;
    private static final int DEEPEST = 8;
    private static final String FORM = "application/x-www-form-urlencoded";
    private static final String EVENT = "application/cloudevents+json";

    /**
     * Reads a call.
     *
     * @param header gives a header, null where there is none
     * @throws Refusal saying what is wrong with it
     */
    static CallSaid read(byte[] body, Function<String, String> header) {
        String type = text(header, "Content-Type").split(";")[0].strip().toLowerCase(Locale.ROOT);
        String key = text(header, "Idempotency-Key");
        String given = new String(body, StandardCharsets.UTF_8);
        if (type.equals(EVENT)) {
            return structured(json(given), key);
        }
        Map<String, String> values =
                switch (type) {
                    case FORM -> form(given);
                    case "application/json" -> given.isBlank() ? Map.of() : flat(json(given));
                    case "" -> given.isBlank() ? Map.<String, String>of() : other(type);
                    default -> other(type);
                };
        String source = text(header, "ce-source");
        String id = text(header, "ce-id");
        return new CallSaid(
                source,
                text(header, "ce-subject"),
                text(header, "ce-type"),
                key.isEmpty() && !id.isEmpty() ? source + " " + id : key,
                values);
    }

    private static Map<String, String> other(String type) {
        throw Refusal.otherType(type.isEmpty() ? "nothing" : type);
    }

    private static String text(Function<String, String> header, String name) {
        String value = header.apply(name);
        if (value == null) {
            return "";
        }
        if (value.length() > LONGEST_ATTRIBUTE) {
            throw Refusal.notUnderstood("the header " + name + " has more than " + LONGEST_ATTRIBUTE + " characters");
        }
        return value.strip();
    }

    private static CallSaid structured(JsonNode event, String key) {
        if (!event.path("specversion").asString("").equals("1.0")) {
            throw Refusal.notUnderstood("a CloudEvent says \"specversion\": \"1.0\"");
        }
        for (String needed : new String[] {"id", "source", "type"}) {
            String value = event.path(needed).asString("");
            if (value.isEmpty() || value.length() > LONGEST_ATTRIBUTE) {
                throw Refusal.notUnderstood(
                        "a CloudEvent has '" + needed + "', of at most " + LONGEST_ATTRIBUTE + " characters");
            }
        }
        JsonNode data = event.path("data");
        return new CallSaid(
                event.path("source").asString(),
                event.path("subject").asString(""),
                event.path("type").asString(),
                key.isEmpty()
                        ? event.path("source").asString() + " "
                                + event.path("id").asString()
                        : key,
                data.isObject() ? flat(data) : Map.of());
    }

    private static JsonNode json(String text) {
        try {
            JsonNode read = JSON.readTree(text);
            if (read == null || !read.isObject()) {
                throw Refusal.notUnderstood("the body is no object of JSON, such as {\"kiosk\": \"north\"}");
            }
            return read;
        } catch (JacksonException e) {
            throw Refusal.notUnderstood("the body is no JSON: " + e.getOriginalMessage());
        }
    }

    private static Map<String, String> form(String text) {
        Map<String, String> values = new LinkedHashMap<>();
        for (String pair : text.split("&")) {
            String[] parts = pair.split("=", 2);
            if (!parts[0].isEmpty()) {
                try {
                    values.put(
                            URLDecoder.decode(parts[0], StandardCharsets.UTF_8),
                            parts.length > 1 ? URLDecoder.decode(parts[1], StandardCharsets.UTF_8) : "");
                } catch (IllegalArgumentException e) {
                    throw Refusal.notUnderstood("the body is no form: " + e.getMessage());
                }
            }
        }
        return bounded(values);
    }

    /** What a call would be read as that carries some values; nothing where they are none by name. */
    static Map<String, String> values(Object given) {
        JsonNode read = JSON.valueToTree(given);
        return read.isObject() ? flat(read) : Map.of();
    }

    private static Map<String, String> flat(JsonNode object) {
        Map<String, String> values = new LinkedHashMap<>();
        flatten("", object, 0, values);
        return bounded(values);
    }

    private static void flatten(String before, JsonNode node, int depth, Map<String, String> values) {
        if (depth > DEEPEST) {
            throw Refusal.notUnderstood("the body is nested deeper than " + DEEPEST + " times");
        }
        if (node.isObject()) {
            node.properties()
                    .forEach(field -> flatten(
                            before.isEmpty() ? field.getKey() : before + "." + field.getKey(),
                            field.getValue(),
                            depth + 1,
                            values));
        } else {
            values.put(before, node.isValueNode() ? node.asString("") : node.toString());
        }
        if (values.size() > MOST_VALUES) {
            throw Refusal.notUnderstood("the body has more than " + MOST_VALUES + " values");
        }
    }

    private static Map<String, String> bounded(Map<String, String> values) {
        // as it will be written down
        int all = JSON.writeValueAsString(values).length();
        if (values.size() > MOST_VALUES || all > MOST_CHARACTERS) {
            throw Refusal.notUnderstood("the body says too much: at most " + MOST_VALUES + " values of "
                    + MOST_CHARACTERS + " characters together");
        }
        return values;
    }
}
