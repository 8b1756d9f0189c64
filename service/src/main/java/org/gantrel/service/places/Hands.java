package org.gantrel.service.places;

import java.io.IOException;
import java.time.Instant;

/** Does what work does with files, as one account and within what it may reach. */
public interface Hands extends FoldersToRead, AutoCloseable {

    /**
     * A file.
     *
     * @param path from the folder that was listed; a full path where it was asked for by itself
     */
    record Entry(String path, long size, Instant modified) {}

    /** What can be done with a file, beside reading it. */
    enum Deed {
        DELETE,
        MOVE,
        COPY,
        /** Into a file with the ending {@code .gz}, which takes its place. */
        COMPRESS,
        /** Moves it to where nothing else is, whatever that is called then. */
        PUT_AWAY
    }

    /**
     * Does something with a file.
     *
     * @param root the folder that it lies below
     * @param path from there
     * @param to the folder that it goes to, where it goes anywhere: to the same path below that
     */
    void act(Deed deed, String root, String path, String to) throws IOException;

    @Override
    void close();
}
