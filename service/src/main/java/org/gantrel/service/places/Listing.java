package org.gantrel.service.places;

import java.io.IOException;
import java.nio.file.attribute.BasicFileAttributes;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import org.gantrel.core.text.Glob;

/** The files of a folder as they are found, of which the service holds so many at once. */
final class Listing {

    private final List<Glob> wanted;
    private final List<Hands.Entry> found = new ArrayList<>();
    private long letters;

    /** @param globs what a path has to match one of */
    Listing(List<String> globs) {
        wanted = globs.stream().map(Glob::of).toList();
    }

    /**
     * Takes a file where it is a regular one, and wanted.
     *
     * @param path from the folder
     * @throws IOException where there are too many
     */
    void add(String path, BasicFileAttributes what) throws IOException {
        if (!what.isRegularFile() || wanted.stream().noneMatch(glob -> glob.matches(path))) {
            return;
        }
        letters += path.length();
        if (found.size() >= FoldersToRead.MOST_LISTED || letters > FoldersToRead.LONGEST_LISTED) {
            throw new IOException("more than " + found.size() + " files match, too many to be worked with at once");
        }
        found.add(new Hands.Entry(path, what.size(), what.lastModifiedTime().toInstant()));
    }

    /** In the order of their paths. */
    List<Hands.Entry> sorted() {
        found.sort(Comparator.comparing(Hands.Entry::path));
        return found;
    }
}
