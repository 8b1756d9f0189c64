package org.gantrel.service.git;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.ArrayList;
import java.util.List;
import java.util.function.BooleanSupplier;
import java.util.regex.Pattern;
import org.gantrel.service.places.Hands;
import org.springframework.util.FileSystemUtils;

/**
 * Brings the copy of a repository that lies on this host up to date, file by file, with the rights of the account that asks: what
 * that account may not read does not come into it (gitrepository-layout(5)).
 */
final class PathCopy {

    private static final Pattern OBJECT =
            Pattern.compile("objects/([0-9a-f]{2}/[0-9a-f]{38}|pack/pack-[0-9a-f]{40}\\.(pack|idx))");
    private static final Pattern REF = Pattern.compile("HEAD|packed-refs|refs/(heads|tags)/.+");
    private static final long MOST_BYTES = 2_000_000_000L;
    private static final long LARGEST_REFS = 10_000_000;
    private static final int DEEPEST = 16;

    private final Hands hands;
    private final String path;
    private final BooleanSupplier late;
    private long left = MOST_BYTES;

    /** @param late whether there is no time left */
    PathCopy(Hands hands, String path, BooleanSupplier late) {
        this.hands = hands;
        this.path = path;
        this.late = late;
    }

    /** @param copy the folder of a bare repository */
    void bring(Path copy) throws IOException {
        String from = repository();
        // what refers comes before what it refers to, so that all that is referred to is there
        var refs = new ArrayList<Brought>();
        for (Hands.Entry each : hands.list(from, List.of("HEAD", "packed-refs", "refs/**"), DEEPEST)) {
            if (REF.matcher(each.path()).matches() && !each.path().endsWith(".lock")) {
                refs.add(new Brought(each.path(), read(from, each)));
            }
        }
        if (exists(from + "/objects/info/alternates")) {
            throw new SourceRefused("the repository at " + path
                    + " borrows objects of another (objects/info/alternates), which is not followed");
        }
        objects(from, copy);
        FileSystemUtils.deleteRecursively(copy.resolve("refs"));
        Files.createDirectories(copy.resolve("refs/heads"));
        Files.createDirectories(copy.resolve("refs/tags"));
        Files.deleteIfExists(copy.resolve("packed-refs"));
        for (Brought ref : refs) {
            Path to = copy.resolve(ref.path()).normalize();
            if (!to.startsWith(copy)) {
                throw new SourceRefused("the repository at " + path + " holds '" + ref.path() + "'");
            }
            Files.createDirectories(to.getParent());
            Files.write(to, ref.bytes());
        }
    }

    private record Brought(String path, byte[] bytes) {}

    private String repository() throws IOException {
        for (String below : List.of("", "/.git")) {
            if (hands.isFolder(path + below)
                    && exists(path + below + "/HEAD")
                    && hands.isFolder(path + below + "/objects")) {
                return path + below;
            }
        }
        throw new IOException(hands.isFolder(path) ? path + " is no Git repository" : "there is no folder " + path);
    }

    private boolean exists(String file) throws IOException {
        try {
            hands.look(file);
            return true;
        } catch (NoSuchFileException e) {
            return false;
        }
    }

    private byte[] read(String from, Hands.Entry each) throws IOException {
        try (InputStream stream = hands.open(from + "/" + each.path())) {
            byte[] bytes = stream.readNBytes((int) Math.min(LARGEST_REFS, left) + 1);
            left -= bytes.length;
            if (bytes.length > LARGEST_REFS || left < 0) {
                throw new SourceRefused("the repository at " + path + " has more branches and tags than can be taken");
            }
            return bytes;
        }
    }

    /** What is there already is not brought again: the name of an object says what it holds. */
    private void objects(String from, Path copy) throws IOException {
        // an index makes its pack known, so it comes after it
        List<Hands.Entry> all = new ArrayList<>(hands.list(from, List.of("objects/**"), DEEPEST));
        all.sort((one, other) ->
                Boolean.compare(one.path().endsWith(".idx"), other.path().endsWith(".idx")));
        for (Hands.Entry each : all) {
            Path to = copy.resolve(each.path());
            if (!OBJECT.matcher(each.path()).matches() || Files.exists(to)) {
                continue;
            }
            if (late.getAsBoolean()) {
                throw new IOException("there was not enough time to read " + path);
            }
            Files.createDirectories(to.getParent());
            Path part = Files.createTempFile(copy, "part", "");
            try {
                if (each.size() > left || !hands.copy(from + "/" + each.path(), part, left)) {
                    throw new SourceRefused("the repository at " + path + " has more than " + MOST_BYTES
                            + " bytes, too many to be taken");
                }
                left -= Files.size(part);
                Files.move(part, to, StandardCopyOption.ATOMIC_MOVE);
            } finally {
                Files.deleteIfExists(part);
            }
        }
    }
}
