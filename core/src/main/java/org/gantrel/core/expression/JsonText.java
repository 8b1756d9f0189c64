package org.gantrel.core.expression;

/** Texts within JSON (RFC 8259, 7). */
public final class JsonText {

    private JsonText() {}

    /** A text as it stands between quotes. */
    public static String escaped(String text) {
        var escaped = new StringBuilder();
        for (int i = 0; i < text.length(); i++) {
            char letter = text.charAt(i);
            switch (letter) {
                case '"' -> escaped.append("\\\"");
                case '\\' -> escaped.append("\\\\");
                case '\n' -> escaped.append("\\n");
                case '\r' -> escaped.append("\\r");
                case '\t' -> escaped.append("\\t");
                default -> escaped.append(letter < ' ' ? "\\u%04x".formatted((int) letter) : String.valueOf(letter));
            }
        }
        return escaped.toString();
    }

    /** Whether the text after another stands between quotes, given whether that one did. */
    static boolean quotedAfter(String text, boolean before) {
        boolean quoted = before;
        for (int i = 0; i < text.length(); i++) {
            if (quoted && text.charAt(i) == '\\') {
                i++;
            } else if (text.charAt(i) == '"') {
                quoted = !quoted;
            }
        }
        return quoted;
    }

    /** Whether a text is one whole object or list by its brackets, so that it can close nothing that stands around it. */
    static boolean isStructure(String text) {
        String whole = text.strip();
        if (whole.length() < 2 || "{[".indexOf(whole.charAt(0)) < 0) {
            return false;
        }
        var open = new StringBuilder();
        boolean quoted = false;
        for (int i = 0; i < whole.length(); i++) {
            char letter = whole.charAt(i);
            if (quoted && letter == '\\') {
                i++;
            } else if (letter == '"') {
                quoted = !quoted;
            } else if (!quoted && "{[".indexOf(letter) >= 0) {
                open.append(letter == '{' ? '}' : ']');
            } else if (!quoted && "}]".indexOf(letter) >= 0) {
                int last = open.length() - 1;
                if (last < 0 || open.charAt(last) != letter) {
                    return false;
                }
                open.setLength(last);
                if (last == 0 && i < whole.length() - 1) {
                    return false;
                }
            }
        }
        return open.isEmpty() && !quoted;
    }
}
