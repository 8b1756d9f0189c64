package org.gantrel.service.git;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.json.JsonMapper;

/**
 * A commit of a copy as it was written down: what its files hold stands one after the other in one file, and this, in another,
 * says where each begins.
 *
 * @param madeAt when the commit was made, in seconds since 1970 (UTC)
 * @param subject the first line of its message
 * @param leftOut paths of what it names and does not hold
 * @param items its files and links, by their paths
 * @param bytes of all files together
 */
record Snapshot(long madeAt, String subject, List<String> leftOut, List<Item> items, long bytes) {

    /** Several branches may be used in turn. */
    private static final int KEPT = 4;

    private static final long KEPT_BYTES = 1_000_000_000;
    private static final String LIST = ".list";

    /** What something is. */
    enum Kind {
        FILE,
        PROGRAM,
        LINK
    }

    /**
     * A file or link.
     *
     * @param at where it begins among all of them
     * @param to where a link leads; empty for a file
     */
    record Item(String path, Kind kind, long at, long size, String to) {}

    static Path files(Path copy, String commit) {
        return copy.resolve("state-" + commit);
    }

    static Path list(Path copy, String commit) {
        return copy.resolve("state-" + commit + LIST);
    }

    /** What was written down; nothing where that was not done, or not to its end. */
    static Optional<Snapshot> read(Path copy, String commit) throws IOException {
        Path list = list(copy, commit);
        if (!Files.exists(list)) {
            return Optional.empty();
        }
        try {
            Snapshot read = JsonMapper.shared().readValue(list.toFile(), Snapshot.class);
            Path files = files(copy, commit);
            return Files.exists(files) && Files.size(files) == read.bytes() ? Optional.of(read) : Optional.empty();
        } catch (JacksonException e) {
            return Optional.empty();
        }
    }

    /** Makes known what stands in the file of the commit; older ones go. */
    void write(Path copy, String commit) throws IOException {
        Path part = copy.resolve("list.part");
        JsonMapper.shared().writeValue(part.toFile(), this);
        Files.move(part, list(copy, commit), java.nio.file.StandardCopyOption.ATOMIC_MOVE);
        removeOld(copy);
    }

    private static void removeOld(Path copy) throws IOException {
        List<Path> all;
        try (Stream<Path> found = Files.list(copy)) {
            all = new ArrayList<>(
                    found.filter(each -> each.getFileName().toString().matches("state-[0-9a-f]{40}"))
                            .toList());
        }
        all.sort(Comparator.comparing(Snapshot::changed).reversed());
        long bytes = 0;
        for (int i = 0; i < all.size(); i++) {
            bytes += Files.size(all.get(i));
            if (i > 0 && (i >= KEPT || bytes > KEPT_BYTES)) {
                Files.deleteIfExists(all.get(i).resolveSibling(all.get(i).getFileName() + LIST));
                Files.deleteIfExists(all.get(i));
            }
        }
    }

    private static FileTime changed(Path file) {
        try {
            return Files.getLastModifiedTime(file);
        } catch (IOException e) {
            return FileTime.fromMillis(0);
        }
    }
}
