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
import java.util.List;
import java.util.Set;

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
        BasicFileAttributes what = attributes(regular(file));
        return new Hands.Entry(file, what.size(), what.lastModifiedTime().toInstant());
    }

    @Override
    public InputStream open(String file) throws IOException {
        return Files.newInputStream(regular(file));
    }

    private Path regular(String file) throws IOException {
        Path real = real(file);
        if (!attributes(real).isRegularFile()) {
            throw new NoSuchFileException(file);
        }
        return real;
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

    @Override
    public List<Hands.Entry> list(String folder, List<String> globs, int deepest) throws IOException {
        Path top = real(folder);
        if (!attributes(top).isDirectory()) {
            throw new NotDirectoryException(folder);
        }
        var found = new Listing(globs);
        Files.walkFileTree(top, Set.of(), deepest, new SimpleFileVisitor<>() {
            @Override
            public FileVisitResult visitFile(Path file, BasicFileAttributes what) throws IOException {
                found.add(top.relativize(file).toString(), what);
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
        return found.sorted();
    }
}
