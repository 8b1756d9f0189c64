package org.gantrel.core.text;

import com.google.re2j.Pattern;
import com.google.re2j.PatternSyntaxException;

/**
 * Names of files by a glob: {@code *} and {@code ?} within a folder, {@code **} over folders, {@code [a-z]}, and
 * {@code {a,b}}. It is matched in time that grows with the length of the path only.
 */
public final class Glob {

    private final String text;
    private final Pattern pattern;

    private Glob(String text, Pattern pattern) {
        this.text = text;
        this.pattern = pattern;
    }

    /**
     * Reads a glob.
     *
     * @throws IllegalArgumentException saying what is wrong with it
     */
    public static Glob of(String text) {
        try {
            return new Glob(text, Pattern.compile(regex(text), Pattern.DOTALL));
        } catch (PatternSyntaxException e) {
            throw wrong(text, e.getDescription());
        }
    }

    /** A text as a part of a glob that matches nothing but itself. */
    public static String literal(String text) {
        return text.replaceAll("[\\\\*?\\[\\]{},]", "\\\\$0");
    }

    private static IllegalArgumentException wrong(String text, String why) {
        return new IllegalArgumentException("'" + text + "' is no path or glob: " + why);
    }

    private static String regex(String text) {
        var regex = new StringBuilder();
        boolean group = false;
        int at = 0;
        while (at < text.length()) {
            char letter = text.charAt(at++);
            switch (letter) {
                case '*' -> {
                    boolean over = at < text.length() && text.charAt(at) == '*';
                    at += over ? 1 : 0;
                    regex.append(over ? ".*" : "[^/]*");
                }
                case '?' -> regex.append("[^/]");
                case '[' -> {
                    int end = text.indexOf(']', at + 1);
                    if (end < 0) {
                        throw wrong(text, "the '[' is not closed");
                    }
                    regex.append(set(text, text.substring(at, end)));
                    at = end + 1;
                }
                case '{' -> {
                    if (group) {
                        throw wrong(text, "a '{' within a '{'");
                    }
                    group = true;
                    regex.append("(?:");
                }
                case '}' -> {
                    regex.append(group ? ")" : "\\}");
                    group = false;
                }
                case ',' -> regex.append(group ? "|" : ",");
                case '\\' -> {
                    if (at == text.length()) {
                        throw wrong(text, "nothing follows the '\\'");
                    }
                    regex.append(Pattern.quote(String.valueOf(text.charAt(at++))));
                }
                default -> regex.append(Pattern.quote(String.valueOf(letter)));
            }
        }
        if (group) {
            throw wrong(text, "the '{' is not closed");
        }
        return regex.toString();
    }

    private static String set(String text, String inside) {
        if (inside.contains("/") || inside.equals("!")) {
            throw wrong(text, "'[" + inside + "]' names no letters");
        }
        boolean not = inside.startsWith("!");
        String letters = (not ? inside.substring(1) : inside)
                .replace("\\", "\\\\")
                .replace("[", "\\[")
                .replace("]", "\\]")
                .replace("^", "\\^")
                .replace("&", "\\&");
        return "[" + (not ? "^/" : "") + letters + "]";
    }

    /** Whether a whole path, its parts joined by slashes, matches. */
    public boolean matches(String path) {
        return pattern.matches(path);
    }

    /** Whether a path matches; one that names no folder fits the files of all. */
    public boolean fits(String path) {
        return matches(path) || !text.contains("/") && matches(path.substring(path.lastIndexOf('/') + 1));
    }

    @Override
    public String toString() {
        return text;
    }
}
