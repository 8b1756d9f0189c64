package org.gantrel.service.telling;

import com.samskivert.mustache.DefaultCollector;
import com.samskivert.mustache.Mustache;
import com.samskivert.mustache.MustacheException;
import com.samskivert.mustache.Template;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.gantrel.core.text.Nearest;

/** Fills templates without logic (Mustache). They see the values that they are given, as texts and lists, and nothing else. */
public final class Mustaches {

    private static final int LONGEST = 60_000;

    /** Each section goes through its list again for each item of that around it. */
    private static final int MOST_NESTED = 2;

    private static final Pattern NAMED = Pattern.compile("\\{\\{\\{?\\s*([#^/&]?)\\s*([\\w.-]*)\\s*}");

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

    /**
     * What is wrong with a template, with its line and column: its form, and names that stand for nothing.
     *
     * @param names the values that it may name; what follows a dot, or stands within a section, is not looked at
     */
    public static List<String> complaints(String template, Collection<String> names) {
        String wrong = complaint(template);
        if (!wrong.isEmpty()) {
            return List.of("is no template: " + wrong);
        }
        var complaints = new ArrayList<String>();
        Matcher found = NAMED.matcher(template);
        int depth = 0;
        while (found.find()) {
            String sign = found.group(1);
            depth -= sign.equals("/") ? 1 : 0;
            String name = found.group(2).replaceFirst("\\..*", "");
            if (depth == 0 && !name.isEmpty() && !names.contains(name)) {
                complaints.add(
                        "'{{" + found.group(2) + "}}' in " + place(template, found.start()) + " stands for nothing"
                                + Nearest.hint(name, names) + "; there are " + String.join(", ", names));
            }
            depth += sign.equals("#") || sign.equals("^") ? 1 : 0;
        }
        return complaints;
    }

    private static String place(String template, int at) {
        String before = template.substring(0, at);
        int line = (int) before.chars().filter(letter -> letter == '\n').count() + 1;
        return "line " + line + ", column " + (at - before.lastIndexOf('\n')) + " of it";
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
