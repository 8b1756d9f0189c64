package org.gantrel.service.places;

import java.io.IOException;
import java.nio.channels.SeekableByteChannel;
import java.nio.file.AccessDeniedException;
import java.nio.file.DirectoryStream;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.NoSuchFileException;
import java.nio.file.OpenOption;
import java.nio.file.Path;
import java.nio.file.SecureDirectoryStream;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.BasicFileAttributeView;
import java.nio.file.attribute.BasicFileAttributes;
import java.nio.file.attribute.FileAttribute;
import java.nio.file.attribute.PosixFileAttributeView;
import java.util.Optional;
import java.util.Set;
import java.util.stream.StreamSupport;

/**
 * A folder that is held open. What is done in it is done there, whatever is put in the place of its path meanwhile: a link
 * that takes a folder's place while work goes on wins nothing.
 */
final class Folder implements AutoCloseable {

    private final Path path;
    private final SecureDirectoryStream<Path> stream;

    private Folder(Path path, SecureDirectoryStream<Path> stream) {
        this.path = path;
        this.stream = stream;
    }

    /** Enters a folder by its real path, step by step, following no link. */
    static Folder enter(Path real) throws IOException {
        var at = new Folder(real.getRoot(), secure(Files.newDirectoryStream(real.getRoot())));
        for (Path name : real) {
            Folder before = at;
            try (before) {
                at = before.within(name);
            } catch (AccessDeniedException e) {
                // it may be passed through and not be read
                at = passed(before.path.resolve(name));
            }
        }
        return at;
    }

    private static Folder passed(Path real) throws IOException {
        var folder = new Folder(real, secure(Files.newDirectoryStream(real)));
        Object held = folder.stream
                .getFileAttributeView(BasicFileAttributeView.class)
                .readAttributes()
                .fileKey();
        if (!real.toRealPath().equals(real)
                || !held.equals(Files.readAttributes(real, BasicFileAttributes.class, LinkOption.NOFOLLOW_LINKS)
                        .fileKey())) {
            folder.close();
            throw new NoSuchFileException(real.toString());
        }
        return folder;
    }

    private static SecureDirectoryStream<Path> secure(DirectoryStream<Path> stream) throws IOException {
        if (stream instanceof SecureDirectoryStream<Path> secure) {
            return secure;
        }
        stream.close();
        throw new IOException("this host's file system cannot hold folders open");
    }

    Path path() {
        return path;
    }

    Folder within(Path name) throws IOException {
        return new Folder(path.resolve(name), stream.newDirectoryStream(name, LinkOption.NOFOLLOW_LINKS));
    }

    /** The names in it, once. */
    Iterable<Path> names() {
        return () -> StreamSupport.stream(stream.spliterator(), false)
                .map(Path::getFileName)
                .iterator();
    }

    /** What something in it is, not following a link; nothing where nothing is there. */
    Optional<BasicFileAttributes> look(Path name) throws IOException {
        try {
            return Optional.of(
                    stream.getFileAttributeView(name, BasicFileAttributeView.class, LinkOption.NOFOLLOW_LINKS)
                            .readAttributes());
        } catch (NoSuchFileException e) {
            return Optional.empty();
        }
    }

    /** Opens a regular file to be read. */
    SeekableByteChannel read(Path name) throws IOException {
        if (look(name).filter(BasicFileAttributes::isRegularFile).isEmpty()) {
            throw new NoSuchFileException(path.resolve(name).toString());
        }
        return stream.newByteChannel(name, Set.of(StandardOpenOption.READ, LinkOption.NOFOLLOW_LINKS));
    }

    /** Makes a file that is not there yet. */
    SeekableByteChannel make(Path name, FileAttribute<?>... attributes) throws IOException {
        Set<OpenOption> options =
                Set.of(StandardOpenOption.CREATE_NEW, StandardOpenOption.WRITE, LinkOption.NOFOLLOW_LINKS);
        return stream.newByteChannel(name, options, attributes);
    }

    void delete(Path name) throws IOException {
        stream.deleteFile(name);
    }

    void move(Path name, Folder to, Path as) throws IOException {
        stream.move(name, to.stream, as);
    }

    PosixFileAttributeView attributes(Path name) {
        return stream.getFileAttributeView(name, PosixFileAttributeView.class, LinkOption.NOFOLLOW_LINKS);
    }

    @Override
    public void close() throws IOException {
        stream.close();
    }
}
