package org.gantrel.client.output;

import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.PrintStream;
import java.io.Reader;
import java.nio.charset.StandardCharsets;

/**
 * Texts of others as they can be shown: what would steer a terminal (ECMA-48 control functions) or turn the direction of
 * writing around (Unicode's bidirectional controls) is shown as a sign and not sent.
 */
public final class Visible {

    private Visible() {}

    /** A text with its control characters as signs; ends of lines and tabs stay. */
    public static String of(String text) {
        if (text.chars().noneMatch(Visible::steers)) {
            return text;
        }
        var shown = new StringBuilder(text.length() + 16);
        for (int i = 0; i < text.length(); i++) {
            char letter = text.charAt(i);
            boolean endsLine = letter == '\r' && i + 1 < text.length() && text.charAt(i + 1) == '\n';
            if (!steers(letter) || endsLine) {
                shown.append(letter);
            } else if (letter < ' ') {
                // Unicode has pictures of the old control characters, in their order
                shown.append((char) (0x2400 + letter));
            } else {
                shown.append(String.format("<%02x>", (int) letter));
            }
        }
        return shown.toString();
    }

    private static boolean steers(int letter) {
        return (letter < ' ' && letter != '\n' && letter != '\t')
                || (letter >= 0x7f && letter <= 0x9f)
                || (letter >= 0x202a && letter <= 0x202e)
                || (letter >= 0x2066 && letter <= 0x2069)
                || letter == 0x200e
                || letter == 0x200f;
    }

    /** JSON with such characters escaped, which means the same (RFC 8259, 7). */
    static String json(String json) {
        var escaped = new StringBuilder(json.length());
        for (int i = 0; i < json.length(); i++) {
            char letter = json.charAt(i);
            boolean plain = !steers(letter) || letter < ' ';
            escaped.append(plain ? String.valueOf(letter) : String.format("\\u%04x", (int) letter));
        }
        return escaped.toString();
    }

    /** Copies a text in UTF-8 piece by piece, its control characters as signs. */
    public static void copy(InputStream from, PrintStream to) throws IOException {
        Reader reader = new InputStreamReader(from, StandardCharsets.UTF_8);
        var piece = new char[8_192];
        int held = 0;
        int read = reader.read(piece, 0, piece.length);
        while (read >= 0) {
            int filled = held + read;
            // a carriage return at the end is held until what follows is known
            held = filled > 0 && piece[filled - 1] == '\r' ? 1 : 0;
            write(new String(piece, 0, filled - held), to);
            piece[0] = '\r';
            read = reader.read(piece, held, piece.length - held);
        }
        if (held > 0) {
            write("\r", to);
        }
        to.flush();
    }

    private static void write(String text, PrintStream to) {
        byte[] bytes = of(text).getBytes(StandardCharsets.UTF_8);
        to.write(bytes, 0, bytes.length);
    }
}
