package org.gantrel.service.telling;

import com.samskivert.mustache.DefaultCollector;
import com.samskivert.mustache.Mustache;
import com.samskivert.mustache.MustacheException;
import com.samskivert.mustache.Template;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Fills templates without logic (Mustache). They see the values that they are given, as texts and lists, and nothing else. */
public final class Mustaches {

    private static final int LONGEST = 60_000;

    /** Each section goes through its list again for each item of that around it. */
    private static final int MOST_NESTED = 2;

    private static final Pattern TAG = Pattern.compile("\\{\\{\\{?\\s*([#^/=>]?)");

    /** Reads from maps alone, so that no template reaches into an object. */
    private static final class MapsOnly extends DefaultCollector {
        private static final Mustache.VariableFetcher FROM_MAP = (context, name) -> {
            Map<?, ?> map = (Map<?, ?>) context;
            return map.containsKey(name) ? map.get(name) : Template.NO_FETCHER_FOUND;
        };
        private static final Mustache.VariableFetcher ITSELF = (context, name) -> context;

        @Override
        public Mustache.VariableFetcher createFetcher(Object context, String name) {
            if (name.equals(".") || name.equals("this")) {
                return ITSELF;
            }
            return context instanceof Map ? FROM_MAP : (other, key) -> Template.NO_FETCHER_FOUND;
        }
    }

    private static final Mustache.Compiler PLAIN = Mustache.compiler()
            .withCollector(new MapsOnly())
            .escapeHTML(false)
            .defaultValue("")
            .emptyStringIsFalse(true);

    private static final Mustache.Compiler HTML = PLAIN.escapeHTML(true);

    /** Values of JSON: quotation marks, backslashes and control characters are written as RFC 8259, 7 says. */
    private static final Mustache.Compiler JSON = PLAIN.withEscaper(Mustaches::escapeJson);

    private Mustaches() {}

    public static String html(String template, Map<String, Object> values) {
        return bounded(HTML.compile(template).execute(values));
    }

    public static String plain(String template, Map<String, Object> values) {
        return bounded(PLAIN.compile(template).execute(values));
    }

    public static String json(String template, Map<String, Object> values) {
        return bounded(JSON.compile(template).execute(values));
    }

    /** What is wrong with a template; empty where nothing is. */
    public static String complaint(String template) {
        int depth = 0;
        Matcher tags = TAG.matcher(template);
        while (tags.find()) {
            String sign = tags.group(1);
            if (sign.equals("=") || sign.equals(">")) {
                return "it can neither change the braces nor take in other templates ({{=, {{>)";
            }
            depth += sign.equals("/") ? -1 : sign.isEmpty() ? 0 : 1;
            if (depth > MOST_NESTED) {
                return "sections within sections are " + MOST_NESTED + " deep at most";
            }
        }
        try {
            JSON.compile(template);
            return "";
        } catch (MustacheException e) {
            return String.valueOf(e.getMessage());
        }
    }

    public static String resource(String name) {
        try (InputStream stream = Mustaches.class.getResourceAsStream("/notification/" + name)) {
            return new String(stream.readAllBytes(), StandardCharsets.UTF_8);
        } catch (IOException e) {
            throw new IllegalStateException(e);
        }
    }

    private static String bounded(String text) {
        return text.length() <= LONGEST ? text : text.substring(0, LONGEST);
    }

    private static String escapeJson(String text) {
        var escaped = new StringBuilder();
        text.chars().forEach(c -> {
            if (c == '"' || c == '\\') {
                escaped.append('\\').append((char) c);
            } else if (c < 0x20) {
                escaped.append(String.format("\\u%04x", c));
            } else {
                escaped.append((char) c);
            }
        });
        return escaped.toString();
    }
}
