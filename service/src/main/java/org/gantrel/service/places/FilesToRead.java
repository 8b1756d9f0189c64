package org.gantrel.service.places;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import org.springframework.util.StreamUtils;

/** Files that can be looked at and read, by their paths. */
public interface FilesToRead {

    /**
     * A regular file.
     *
     * @throws java.nio.file.NoSuchFileException where there is none
     * @throws NotReachable where it is not for these jobs
     */
    Hands.Entry look(String file) throws IOException;

    /** Reads a regular file, with the same errors. */
    InputStream open(String file) throws IOException;

    /**
     * Copies a regular file, with the same errors. Whatever was said of its size, it may grow while it is read.
     *
     * @param to takes the place of what is there
     * @param most how many bytes it may have
     * @return false where it has more; then, and where it cannot be read to its end, there is no copy
     */
    default boolean copy(String file, Path to, long most) throws IOException {
        boolean whole = false;
        try (InputStream in = open(file);
                OutputStream out = Files.newOutputStream(to)) {
            whole = StreamUtils.copyRange(in, out, 0, most) <= most;
        } finally {
            if (!whole) {
                Files.deleteIfExists(to);
            }
        }
        return whole;
    }
}
