package org.gantrel.service.places;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.FileSystemException;
import java.nio.file.FileVisitResult;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.NoSuchFileException;
import java.nio.file.NotDirectoryException;
import java.nio.file.Path;
import java.nio.file.SimpleFileVisitor;
import java.nio.file.attribute.BasicFileAttributes;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Set;
import org.gantrel.core.text.Glob;

/**
 * The files below a folder of any file system, such as that of another host. Who looks at them is bound by what that file
 * system lets them see.
 */
public final class FilesBelow implements FoldersToRead {

    private static final int MOST_LINKS = 40;

    private final Path root;

    /** @param root the folder, on its file system */
    public FilesBelow(Path root) {
        this.root = root;
    }

    @Override
    public Hands.Entry look(String file) throws IOException {
        BasicFileAttributes found = attributes(real(file));
        if (!found.isRegularFile()) {
            throw new NoSuchFileException(file);
        }
        return entry(file, found);
    }

    @Override
    public InputStream open(String file) throws IOException {
        look(file);
        return Files.newInputStream(real(file));
    }

    @Override
    public boolean isFolder(String folder) throws IOException {
        try {
            return attributes(real(folder)).isDirectory();
        } catch (NoSuchFileException e) {
            return false;
        }
    }

    /** Where something is in truth. What a host calls a real path may still be one of links, so each is followed here. */
    private Path real(String given) throws IOException {
        Path path = root.getFileSystem().getPath(given);
        if (!path.isAbsolute() || !path.normalize().equals(path)) {
            throw new NotReachable("'" + given + "' is no full path without '..'");
        }
        Path at = root;
        var ahead = new ArrayDeque<>(below(given, path));
        for (int links = 0; !ahead.isEmpty(); ) {
            Path next = at.resolve(ahead.pop());
            BasicFileAttributes what = attributes(next);
            if (what.isSymbolicLink()) {
                if (++links > MOST_LINKS) {
                    throw new FileSystemException(given, null, "its links lead nowhere");
                }
                Path target = at.resolve(Files.readSymbolicLink(next)).normalize();
                List<Path> names = below(given, target);
                names.addAll(ahead);
                ahead = new ArrayDeque<>(names);
                at = root;
            } else if (!what.isDirectory() && !ahead.isEmpty()) {
                throw new NoSuchFileException(given);
            } else {
                at = next;
            }
        }
        return at;
    }

    /** The names from the root on to something; none for the root itself. */
    private List<Path> below(String given, Path path) throws NotReachable {
        if (!path.startsWith(root)) {
            throw new NotReachable(given + " lies outside of " + root);
        }
        var names = new ArrayList<Path>();
        for (int i = root.getNameCount(); i < path.getNameCount(); i++) {
            names.add(path.getName(i));
        }
        return names;
    }

    private static BasicFileAttributes attributes(Path path) throws IOException {
        return Files.readAttributes(path, BasicFileAttributes.class, LinkOption.NOFOLLOW_LINKS);
    }

    private static Hands.Entry entry(String path, BasicFileAttributes what) {
        return new Hands.Entry(path, what.size(), what.lastModifiedTime().toInstant());
    }

    @Override
    public List<Hands.Entry> list(String folder, List<String> globs, int deepest) throws IOException {
        var wanted = globs.stream().map(Glob::of).toList();
        var entries = new ArrayList<Hands.Entry>();
        Path top = real(folder);
        if (!attributes(top).isDirectory()) {
            throw new NotDirectoryException(folder);
        }
        Files.walkFileTree(top, Set.of(), deepest, new SimpleFileVisitor<>() {
            private long letters;

            @Override
            public FileVisitResult visitFile(Path file, BasicFileAttributes what) throws IOException {
                String below = top.relativize(file).toString();
                if (what.isRegularFile() && wanted.stream().anyMatch(glob -> glob.matches(below))) {
                    letters += below.length();
                    if (entries.size() >= MOST_LISTED || letters > LONGEST_LISTED) {
                        throw new IOException(
                                "more than " + entries.size() + " files match, too many to be worked with at once");
                    }
                    entries.add(entry(below, what));
                }
                return FileVisitResult.CONTINUE;
            }

            @Override
            public FileVisitResult visitFileFailed(Path file, IOException why) throws IOException {
                if (why instanceof NoSuchFileException && !file.equals(top)) {
                    // it went meanwhile
                    return FileVisitResult.CONTINUE;
                }
                throw why;
            }
        });
        entries.sort(Comparator.comparing(Hands.Entry::path));
        return entries;
    }
}
