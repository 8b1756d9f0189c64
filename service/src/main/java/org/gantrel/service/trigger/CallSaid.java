package org.gantrel.service.trigger;

import java.net.URLDecoder;
import java.net.URLEncoder;
import java.nio.ByteBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import org.gantrel.service.refusal.Refusal;
import org.springframework.http.InvalidMediaTypeException;
import org.springframework.http.MediaType;
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
        Charset charset = charset(text(header, "Content-Type"));
        String given = decoded(body, charset);
        if (type.equals(EVENT)) {
            return structured(json(given), key);
        }
        Map<String, String> values =
                switch (type) {
                    case FORM -> form(given, charset);
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

    /** What a body is written in: as its type says, or else UTF-8. */
    private static Charset charset(String type) {
        try {
            return type.isEmpty()
                    ? StandardCharsets.UTF_8
                    : Optional.ofNullable(MediaType.parseMediaType(type).getCharset())
                            .orElse(StandardCharsets.UTF_8);
        } catch (InvalidMediaTypeException e) {
            return StandardCharsets.UTF_8;
        }
    }

    /** A text, and nothing that only looks like one: a letter that was lost on the way is a value that nobody meant. */
    private static String decoded(byte[] bytes, Charset charset) {
        try {
            return charset.newDecoder().decode(ByteBuffer.wrap(bytes)).toString();
        } catch (CharacterCodingException e) {
            throw Refusal.notUnderstood("the body is not written in " + charset
                    + "; its Content-Type may name another character set, such as charset=windows-1252");
        }
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

    private static Map<String, String> form(String text, Charset charset) {
        Map<String, String> values = new LinkedHashMap<>();
        for (String pair : text.split("&")) {
            String[] parts = pair.split("=", 2);
            if (!parts[0].isEmpty()) {
                values.put(formText(parts[0], charset), parts.length > 1 ? formText(parts[1], charset) : "");
            }
        }
        return bounded(values);
    }

    /** A name or a value of a form (WHATWG URL, 5.1). */
    private static String formText(String written, Charset charset) {
        try {
            // each byte as a letter of its own
            String plain =
                    URLEncoder.encode(written, charset).replace("%2B", "+").replace("%25", "%");
            byte[] bytes = URLDecoder.decode(plain, StandardCharsets.ISO_8859_1).getBytes(StandardCharsets.ISO_8859_1);
            return decoded(bytes, charset);
        } catch (IllegalArgumentException e) {
            throw Refusal.notUnderstood("the body is no form: " + e.getMessage());
        }
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
