package org.gantrel.service.places;

import java.io.IOException;
import java.time.Instant;
import java.util.List;

/** Does what work does with files, as one account and within what it may reach. */
public interface Hands extends FilesToRead, AutoCloseable {

    /** The most files that are listed at once. */
    int MOST_LISTED = 100_000;

    /** The most characters that their paths have together: the service holds them all at once. */
    int LONGEST_LISTED = 8_000_000;

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

    /** Whether a folder is there. */
    boolean isFolder(String folder) throws IOException;

    /**
     * The regular files below a folder, links not followed, in the order of their paths.
     *
     * @param globs what a path from there has to match one of
     */
    List<Entry> list(String folder, List<String> globs, int deepest) throws IOException;

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
