package org.gantrel.service.places;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.NoSuchFileException;
import java.util.List;

/** Folders that can be looked through, and the files in them. */
public interface FoldersToRead extends FilesToRead {

    /** The most files that are listed at once. */
    int MOST_LISTED = 100_000;

    /** The most characters that their paths have together: the service holds them all at once. */
    int LONGEST_LISTED = 8_000_000;

    /** Where nothing is. */
    FoldersToRead NOWHERE = new FoldersToRead() {
        @Override
        public boolean isFolder(String folder) {
            return false;
        }

        @Override
        public List<Hands.Entry> list(String folder, List<String> globs, int deepest) {
            return List.of();
        }

        @Override
        public Hands.Entry look(String file) throws IOException {
            throw new NoSuchFileException(file);
        }

        @Override
        public InputStream open(String file) throws IOException {
            throw new NoSuchFileException(file);
        }
    };

    /** Whether a folder is there. */
    boolean isFolder(String folder) throws IOException;

    /**
     * The regular files below a folder, links not followed, in the order of their paths.
     *
     * @param globs what a path from there has to match one of
     */
    List<Hands.Entry> list(String folder, List<String> globs, int deepest) throws IOException;
}
