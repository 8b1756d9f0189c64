package org.gantrel.core.run;

import java.io.BufferedReader;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.SequenceInputStream;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import javax.xml.stream.XMLStreamException;

/**
 * The tags of an XML document one by one, and nothing else of it (XML 1.0, 2.4 to 2.8 and 3.1). A reader of whole documents
 * keeps names, comments and sections in memory as long as they are, and all names that there ever were; of a file that
 * somebody's command has left a single tag is kept at a time.
 */
final class XmlTags {

    /** The longest tag, in characters: a message may hold a long trace. */
    static final int LONGEST = 1_000_000;

    private static final int LOOKED_AHEAD = 8;
    private static final int DECLARATION = 200;
    private static final Pattern ENCODING =
            Pattern.compile("encoding\\s*=\\s*[\"']([A-Za-z][A-Za-z0-9._-]{0,40})[\"']");

    /**
     * A tag.
     *
     * @param text all of it
     * @param name what it is the tag of, without a prefix
     */
    record Tag(String text, String name, boolean begins, boolean ends) {}

    private final BufferedReader text;
    private long open;
    private boolean begun;

    /** @throws XMLStreamException where the document is in an encoding that is not known */
    XmlTags(InputStream file) throws IOException, XMLStreamException {
        this.text = decoded(file);
    }

    private static BufferedReader decoded(InputStream file) throws IOException, XMLStreamException {
        byte[] begin = file.readNBytes(DECLARATION);
        InputStream all = new SequenceInputStream(new ByteArrayInputStream(begin), file);
        boolean wide = begin.length > 1 && (begin[0] == (byte) 0xfe || begin[0] == (byte) 0xff);
        Matcher declared = ENCODING.matcher(new String(begin, StandardCharsets.ISO_8859_1));
        try {
            Charset as = wide
                    ? StandardCharsets.UTF_16
                    : declared.find() ? Charset.forName(declared.group(1)) : StandardCharsets.UTF_8;
            return new BufferedReader(new InputStreamReader(all, as));
        } catch (IllegalArgumentException e) {
            throw new XMLStreamException("the encoding " + declared.group(1) + " is not known");
        }
    }

    /**
     * The next tag; nothing at the end.
     *
     * @throws XMLStreamException where this is no XML, or ends before its time
     */
    Optional<Tag> next() throws IOException, XMLStreamException {
        int letter = text.read();
        while (letter >= 0) {
            if (letter == '<') {
                Optional<Tag> tag = tag();
                if (tag.isPresent()) {
                    return tag;
                }
            } else if (!begun && letter != 0xfeff && !Character.isWhitespace(letter)) {
                throw new XMLStreamException("it does not begin with a tag");
            }
            letter = text.read();
        }
        if (!begun || open > 0) {
            throw new XMLStreamException(begun ? "it ends before its tags do" : "it is empty");
        }
        return Optional.empty();
    }

    /** What an opening bracket begins; nothing where it is no tag. */
    private Optional<Tag> tag() throws IOException, XMLStreamException {
        text.mark(LOOKED_AHEAD);
        var ahead = new StringBuilder();
        for (int i = 0, letter = 0; i < LOOKED_AHEAD && letter >= 0; i++) {
            letter = text.read();
            if (letter >= 0) {
                ahead.append((char) letter);
            }
        }
        text.reset();
        String begin = ahead.toString();
        if (begin.startsWith("!--")) {
            skip("!--".length(), "-->");
            return Optional.empty();
        }
        if (begin.startsWith("![CDATA[")) {
            skip("![CDATA[".length(), "]]>");
            return Optional.empty();
        }
        if (begin.startsWith("?")) {
            skip(1, "?>");
            return Optional.empty();
        }
        String tag = whole();
        if (begin.startsWith("!")) {
            return Optional.empty();
        }
        begun = true;
        boolean ends = tag.startsWith("</") || tag.endsWith("/>");
        boolean begins = !tag.startsWith("</");
        open += (begins ? 1 : 0) - (ends ? 1 : 0);
        if (open < 0) {
            throw new XMLStreamException("it ends what has not begun: " + start(tag));
        }
        return Optional.of(new Tag(tag, nameOf(tag), begins, ends));
    }

    /** All up to the bracket that closes it, which is none that stands in quotes. */
    private String whole() throws IOException, XMLStreamException {
        var tag = new StringBuilder("<");
        int quote = 0;
        int brackets = 0;
        while (true) {
            int letter = text.read();
            if (letter < 0) {
                throw new XMLStreamException("it ends within " + start(tag.toString()));
            }
            if (tag.length() >= LONGEST) {
                throw new XMLStreamException(
                        "a tag has more than " + LONGEST + " characters: " + start(tag.toString()));
            }
            tag.append((char) letter);
            if (quote == 0 && brackets <= 0 && letter == '>') {
                return tag.toString();
            }
            if (quote == 0) {
                // a document type may hold declarations, each with a closing bracket of its own
                brackets += letter == '[' ? 1 : letter == ']' ? -1 : 0;
            }
            if (letter == quote) {
                quote = 0;
            } else if (quote == 0 && (letter == '"' || letter == '\'')) {
                quote = letter;
            }
        }
    }

    private void skip(int begin, String end) throws IOException, XMLStreamException {
        text.skip(begin);
        int seen = 0;
        while (seen < end.length()) {
            int letter = text.read();
            if (letter < 0) {
                throw new XMLStreamException("it ends where " + end + " is missing");
            }
            char first = end.charAt(0);
            if (letter == end.charAt(seen)) {
                seen++;
            } else if (seen == end.length() - 1 && letter == first && end.charAt(seen - 1) == first) {
                // one more of what may come twice or more before the last
                seen = end.length() - 1;
            } else {
                seen = letter == first ? 1 : 0;
            }
        }
    }

    private static String nameOf(String tag) {
        int from = tag.startsWith("</") ? 2 : 1;
        int to = from;
        while (to < tag.length() && "/> \t\r\n".indexOf(tag.charAt(to)) < 0) {
            to++;
        }
        String name = tag.substring(from, to);
        return name.substring(name.indexOf(':') + 1);
    }

    private static String start(String tag) {
        return tag.length() <= 60 ? tag : tag.substring(0, 60) + "...";
    }
}
