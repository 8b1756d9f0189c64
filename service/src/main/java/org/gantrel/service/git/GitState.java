package org.gantrel.service.git;

import java.io.BufferedOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.FileTime;
import java.nio.file.attribute.PosixFilePermissions;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.zip.GZIPOutputStream;
import org.apache.commons.compress.archivers.tar.TarArchiveEntry;
import org.apache.commons.compress.archivers.tar.TarArchiveOutputStream;
import org.apache.commons.compress.archivers.tar.TarConstants;
import org.eclipse.jgit.lib.FileMode;
import org.eclipse.jgit.lib.ObjectLoader;
import org.eclipse.jgit.lib.Repository;
import org.eclipse.jgit.revwalk.RevCommit;
import org.eclipse.jgit.treewalk.TreeWalk;
import org.gantrel.service.execution.Sources;
import org.gantrel.service.places.Hands;

/** A commit of a repository's copy. What stands in it comes from outside: no name in it leads out of a folder. */
final class GitState implements Sources.Taken {

    private static final int MOST_FILES = 50_000;
    private static final long MOST_BYTES = 1_000_000_000;
    private static final int LONGEST_LINK = 4_000;
    private static final int LONGEST_SUBJECT = 80;
    private static final int SHORT = 10;

    private final Repository copy;
    private final RevCommit commit;
    private final String name;
    private final String old;
    private final List<String> leftOut = new ArrayList<>();

    /**
     * @param copy closed with it
     * @param name which state of which repository it is
     * @param old why it is only the state that was known; empty where it is what the repository answered
     */
    GitState(Repository copy, RevCommit commit, String name, String old) throws IOException {
        this.copy = copy;
        this.commit = commit;
        this.name = name;
        this.old = old;
        walk((path, walk) -> {
            if (walk.getFileMode(0) == FileMode.GITLINK) {
                leftOut.add(path);
            }
        });
    }

    private interface Visit {
        void file(String path, TreeWalk walk) throws IOException;
    }

    private void walk(Visit visit) throws IOException {
        int files = 0;
        try (TreeWalk walk = new TreeWalk(copy)) {
            walk.addTree(commit.getTree());
            walk.setRecursive(true);
            while (walk.next()) {
                if (++files > MOST_FILES) {
                    throw new SourceRefused(name + " holds more than " + MOST_FILES + " files, too many to be taken");
                }
                String path = walk.getPathString();
                for (String part : path.split("/", -1)) {
                    if (part.isEmpty() || part.matches("(?i)\\.{1,2}|\\.git") || part.indexOf('\0') >= 0) {
                        throw new SourceRefused(name + " holds '" + path + "', which is no path of a file");
                    }
                }
                visit.file(path, walk);
            }
        }
    }

    @Override
    public String commit() {
        return commit.name();
    }

    @Override
    public Instant made() {
        return Instant.ofEpochSecond(commit.getCommitTime());
    }

    @Override
    public String words() {
        String subject = commit.getShortMessage().replaceAll("\\p{Cntrl}", " ").strip();
        String shown = subject.length() > LONGEST_SUBJECT ? subject.substring(0, LONGEST_SUBJECT) + "..." : subject;
        return name + ", commit " + commit.abbreviate(SHORT).name() + " of "
                + made().atOffset(ZoneOffset.UTC).toLocalDate() + (shown.isEmpty() ? "" : ": " + shown);
    }

    @Override
    public String old() {
        return old;
    }

    @Override
    public List<String> leftOut() {
        return List.copyOf(leftOut);
    }

    @Override
    public List<String> paths() throws IOException {
        var paths = new ArrayList<String>();
        walk((path, walk) -> paths.add(path));
        return paths;
    }

    private Optional<TreeWalk> find(String path) throws IOException {
        String plain = Path.of(path).normalize().toString();
        return plain.isEmpty()
                ? Optional.empty()
                : Optional.ofNullable(TreeWalk.forPath(copy, plain, commit.getTree()));
    }

    @Override
    public Optional<Boolean> isProgram(String path) throws IOException {
        try (TreeWalk found = find(path).orElse(null)) {
            return found == null || !isFile(found)
                    ? Optional.empty()
                    : Optional.of(found.getFileMode(0) == FileMode.EXECUTABLE_FILE);
        }
    }

    private static boolean isFile(TreeWalk found) {
        return found.getFileMode(0) == FileMode.REGULAR_FILE || found.getFileMode(0) == FileMode.EXECUTABLE_FILE;
    }

    private ObjectLoader file(String path) throws IOException {
        try (TreeWalk found = find(path).orElse(null)) {
            if (found == null || !isFile(found)) {
                throw new NoSuchFileException(path + " of " + name);
            }
            return copy.open(found.getObjectId(0));
        }
    }

    @Override
    public Hands.Entry look(String path) throws IOException {
        return new Hands.Entry(path, file(path).getSize(), made());
    }

    @Override
    public InputStream open(String path) throws IOException {
        return file(path).openStream();
    }

    @Override
    public void layOut(Path folder) throws IOException {
        Map<String, String> links = new LinkedHashMap<>();
        long[] left = {MOST_BYTES};
        walk((path, walk) -> {
            FileMode mode = walk.getFileMode(0);
            if (mode == FileMode.SYMLINK) {
                links.put(path, link(walk));
            } else if (mode != FileMode.GITLINK) {
                write(folder.resolve(path), copy.open(walk.getObjectId(0)), mode == FileMode.EXECUTABLE_FILE, left);
            }
        });
        // links come last, so that nothing is written through one
        for (Map.Entry<String, String> link : links.entrySet()) {
            Path at = folder.resolve(link.getKey());
            Files.createDirectories(at.getParent());
            try {
                Files.createSymbolicLink(at, Path.of(link.getValue()));
            } catch (FileAlreadyExistsException e) {
                throw new SourceRefused(name + " holds '" + link.getKey() + "' twice");
            }
        }
    }

    private void write(Path file, ObjectLoader content, boolean program, long[] left) throws IOException {
        bound(content, left);
        Files.createDirectories(file.getParent());
        try (OutputStream stream =
                Files.newOutputStream(file, StandardOpenOption.CREATE_NEW, StandardOpenOption.WRITE)) {
            content.copyTo(stream);
        } catch (FileAlreadyExistsException e) {
            throw new SourceRefused(name + " holds '" + file.getFileName() + "' twice");
        }
        Files.setPosixFilePermissions(file, PosixFilePermissions.fromString(program ? "rwxr-xr-x" : "rw-r--r--"));
        Files.setLastModifiedTime(file, FileTime.from(made()));
    }

    private void bound(ObjectLoader content, long[] left) throws SourceRefused {
        left[0] -= content.getSize();
        if (left[0] < 0) {
            throw new SourceRefused(name + " has more than " + MOST_BYTES + " bytes, too many to be taken");
        }
    }

    private String link(TreeWalk walk) throws IOException {
        String to = new String(copy.open(walk.getObjectId(0)).getBytes(LONGEST_LINK), StandardCharsets.UTF_8);
        if (to.isEmpty() || to.indexOf('\0') >= 0) {
            throw new SourceRefused(name + " holds '" + walk.getPathString() + "', a link to nowhere");
        }
        return to;
    }

    @Override
    public void pack(OutputStream to) throws IOException {
        long[] left = {MOST_BYTES};
        try (var tar = new TarArchiveOutputStream(
                new GZIPOutputStream(new BufferedOutputStream(to)), StandardCharsets.UTF_8.name())) {
            tar.setLongFileMode(TarArchiveOutputStream.LONGFILE_POSIX);
            tar.setBigNumberMode(TarArchiveOutputStream.BIGNUMBER_POSIX);
            tar.setAddPaxHeadersForNonAsciiNames(true);
            // links come last here too
            for (boolean linksNow : new boolean[] {false, true}) {
                walk((path, walk) -> {
                    FileMode mode = walk.getFileMode(0);
                    if (mode != FileMode.GITLINK && (mode == FileMode.SYMLINK) == linksNow) {
                        put(tar, path, walk, mode, left);
                    }
                });
            }
        }
    }

    private void put(TarArchiveOutputStream tar, String path, TreeWalk walk, FileMode mode, long[] left)
            throws IOException {
        TarArchiveEntry entry;
        ObjectLoader file = copy.open(walk.getObjectId(0));
        if (mode == FileMode.SYMLINK) {
            entry = new TarArchiveEntry(path, TarConstants.LF_SYMLINK);
            entry.setLinkName(link(walk));
        } else {
            bound(file, left);
            entry = new TarArchiveEntry(path);
            entry.setSize(file.getSize());
            entry.setMode(mode == FileMode.EXECUTABLE_FILE ? 0755 : 0644);
        }
        entry.setModTime(FileTime.from(made()));
        tar.putArchiveEntry(entry);
        if (mode != FileMode.SYMLINK) {
            file.copyTo(tar);
        }
        tar.closeArchiveEntry();
    }

    @Override
    public void close() {
        copy.close();
    }
}
