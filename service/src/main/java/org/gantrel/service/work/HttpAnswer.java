package org.gantrel.service.work;

import java.io.IOException;
import java.io.InputStream;
import java.net.http.HttpHeaders;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.time.Instant;
import java.util.Optional;
import org.springframework.http.InvalidMediaTypeException;
import org.springframework.http.MediaType;

/**
 * The answer to a request: its status, and its body in a file, since nobody knows how long it is. The file goes when the
 * answer is closed, unless it was kept.
 *
 * @param certificateUntil until when the certificate of its host is good; nothing where there was none
 */
record HttpAnswer(int status, HttpHeaders headers, Optional<Instant> certificateUntil, Path body)
        implements AutoCloseable {

    /** More is not looked into: many answers may be held in memory at the same time. */
    private static final int LONGEST_TEXT = 5_000_000;

    /** How long the body is, in bytes. */
    long bytes() throws IOException {
        return Files.size(body);
    }

    /** What its text is written in (RFC 9110, 8.3.2): as it says, or else UTF-8. */
    private Charset charset() {
        try {
            return headers.firstValue("content-type")
                    .map(MediaType::parseMediaType)
                    .map(MediaType::getCharset)
                    .orElse(StandardCharsets.UTF_8);
        } catch (InvalidMediaTypeException e) {
            return StandardCharsets.UTF_8;
        }
    }

    /**
     * The body as text; what is none is shown by a sign for it.
     *
     * @throws WorkFailed where it is too long to be looked into
     */
    String text() throws IOException {
        if (bytes() > LONGEST_TEXT) {
            throw new WorkFailed("the answer has " + bytes() + " bytes, and at most " + LONGEST_TEXT
                    + " are looked into; save-to keeps a longer one");
        }
        return new String(Files.readAllBytes(body), charset());
    }

    /** What a log shows of the body: all of it, or so many bytes of a longer one. */
    String beginning(int most) throws IOException {
        try (InputStream stream = open()) {
            String text = new String(stream.readNBytes(most), charset());
            return bytes() <= most ? text.stripTrailing() : text + " ...";
        }
    }

    InputStream open() throws IOException {
        return Files.newInputStream(body);
    }

    void moveTo(Path place) throws IOException {
        Files.move(body, place, StandardCopyOption.REPLACE_EXISTING);
    }

    @Override
    public void close() throws IOException {
        Files.deleteIfExists(body);
    }
}
