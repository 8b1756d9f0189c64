package org.gantrel.service.execution;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.Reader;
import java.nio.charset.StandardCharsets;
import java.util.Optional;

/**
 * The lines of a file, each only as far as so many characters: nobody keeps a command from writing a line of a hundred
 * megabytes. Bytes that are no UTF-8 do not end the reading.
 */
final class BoundedLines implements AutoCloseable {

    private final Reader reader;
    private final int longest;

    BoundedLines(InputStream file, int longest) {
        this.reader = new BufferedReader(new InputStreamReader(file, StandardCharsets.UTF_8));
        this.longest = longest;
    }

    /** The next line; nothing after the last. */
    Optional<String> next() throws IOException {
        var line = new StringBuilder();
        int character = reader.read();
        if (character < 0) {
            return Optional.empty();
        }
        while (character >= 0 && character != '\n') {
            if (line.length() < longest) {
                line.append((char) character);
            }
            character = reader.read();
        }
        if (!line.isEmpty() && line.charAt(line.length() - 1) == '\r') {
            line.setLength(line.length() - 1);
        }
        return Optional.of(line.toString());
    }

    @Override
    public void close() throws IOException {
        reader.close();
    }
}
