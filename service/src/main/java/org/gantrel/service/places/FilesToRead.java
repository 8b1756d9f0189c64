package org.gantrel.service.places;

import java.io.IOException;
import java.io.InputStream;

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
}
