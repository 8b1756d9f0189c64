package org.gantrel.service.git;

import java.io.BufferedOutputStream;
import java.io.EOFException;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.lang.ref.SoftReference;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
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
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Semaphore;
import java.util.zip.GZIPOutputStream;
import org.apache.commons.compress.archivers.tar.TarArchiveEntry;
import org.apache.commons.compress.archivers.tar.TarArchiveOutputStream;
import org.apache.commons.compress.archivers.tar.TarConstants;
import org.gantrel.service.execution.Sources;
import org.gantrel.service.git.Snapshot.Item;
import org.gantrel.service.git.Snapshot.Kind;
import org.gantrel.service.places.Hands;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import tools.jackson.databind.json.JsonMapper;

/** A commit of a repository, as it was written down. What stands in it comes from outside: no name in it leads out of a folder. */
final class GitState implements Sources.Taken {

    private static final Logger LOG = LoggerFactory.getLogger(GitState.class);
    private static final int SHORT = 10;

    private final FileChannel list;
    private final FileChannel files;
    private final String commit;
    private final String name;
    private final String old;
    private final Semaphore reading;
    private final long madeAt;
    private final String subject;
    private SoftReference<Snapshot> known;

    /**
     * @param copy the folder where it was written down
     * @param name which state of which repository it is
     * @param old why it is only the state that was known; empty where it is what the repository answered
     * @param reading how many may hold a list of files at a time, all repositories together
     */
    GitState(Path copy, String commit, String name, String old, Semaphore reading) throws IOException {
        // what is open stays, though the files may go
        list = FileChannel.open(Snapshot.list(copy, commit), StandardOpenOption.READ);
        files = FileChannel.open(Snapshot.files(copy, commit), StandardOpenOption.READ);
        this.commit = commit;
        this.name = name;
        this.old = old;
        this.reading = reading;
        Snapshot first = read(all -> all);
        madeAt = first.madeAt();
        subject = first.subject();
    }

    /** Something that is done with what was written down. */
    private interface Use<T> {
        T of(Snapshot all) throws IOException;
    }

    /** It may be long, and whoever took it may wait for hours: it is held where there is room for it, and read again otherwise. */
    private synchronized <T> T read(Use<T> use) throws IOException {
        reading.acquireUninterruptibly();
        try {
            Snapshot all = known == null ? null : known.get();
            if (all == null) {
                try (InputStream stream = new Piece(list, 0, list.size())) {
                    all = JsonMapper.shared().readValue(stream, Snapshot.class);
                }
                known = new SoftReference<>(all);
            }
            return use.of(all);
        } finally {
            reading.release();
        }
    }

    @Override
    public String commit() {
        return commit;
    }

    @Override
    public Instant made() {
        return Instant.ofEpochSecond(madeAt);
    }

    @Override
    public String words() {
        return name + ", commit " + commit.substring(0, SHORT) + " of "
                + made().atOffset(ZoneOffset.UTC).toLocalDate()
                + (subject.isEmpty() ? "" : ": " + subject);
    }

    @Override
    public String old() {
        return old;
    }

    @Override
    public List<String> leftOut() throws IOException {
        return read(Snapshot::leftOut);
    }

    @Override
    public List<String> paths() throws IOException {
        return read(all -> all.items().stream().map(Item::path).toList());
    }

    private Optional<Item> find(String path) throws IOException {
        String plain = Path.of(path).normalize().toString();
        return read(all -> all.items().stream()
                .filter(item -> item.path().equals(plain) && item.kind() != Kind.LINK)
                .findFirst());
    }

    @Override
    public Optional<Boolean> isProgram(String path) throws IOException {
        return find(path).map(item -> item.kind() == Kind.PROGRAM);
    }

    private Item file(String path) throws IOException {
        return find(path).orElseThrow(() -> new NoSuchFileException(path + " of " + name));
    }

    @Override
    public Hands.Entry look(String path) throws IOException {
        return new Hands.Entry(path, file(path).size(), made());
    }

    @Override
    public InputStream open(String path) throws IOException {
        return content(file(path));
    }

    private InputStream content(Item item) throws IOException {
        return new Piece(files, item.at(), item.size());
    }

    @Override
    public void layOut(Path folder) throws IOException {
        read(all -> {
            layOut(all.items(), folder);
            return all;
        });
    }

    private void layOut(List<Item> items, Path folder) throws IOException {
        for (Item item : items) {
            if (item.kind() != Kind.LINK) {
                write(folder.resolve(item.path()), item);
            }
        }
        // links come last, so that nothing is written through one
        for (Item item : items) {
            if (item.kind() == Kind.LINK) {
                Path at = folder.resolve(item.path());
                Files.createDirectories(at.getParent());
                try {
                    Files.createSymbolicLink(at, Path.of(item.to()));
                } catch (FileAlreadyExistsException e) {
                    throw new SourceRefused(name + " holds '" + item.path() + "' twice");
                }
            }
        }
    }

    private void write(Path file, Item item) throws IOException {
        Files.createDirectories(file.getParent());
        try (InputStream content = content(item);
                OutputStream stream =
                        Files.newOutputStream(file, StandardOpenOption.CREATE_NEW, StandardOpenOption.WRITE)) {
            content.transferTo(stream);
        } catch (FileAlreadyExistsException e) {
            throw new SourceRefused(name + " holds '" + file.getFileName() + "' twice");
        }
        Files.setPosixFilePermissions(
                file, PosixFilePermissions.fromString(item.kind() == Kind.PROGRAM ? "rwxr-xr-x" : "rw-r--r--"));
        Files.setLastModifiedTime(file, FileTime.from(made()));
    }

    @Override
    public void pack(OutputStream to) throws IOException {
        read(all -> {
            pack(all.items(), to);
            return all;
        });
    }

    private void pack(List<Item> items, OutputStream to) throws IOException {
        try (var tar = new TarArchiveOutputStream(
                new GZIPOutputStream(new BufferedOutputStream(to)), StandardCharsets.UTF_8.name())) {
            tar.setLongFileMode(TarArchiveOutputStream.LONGFILE_POSIX);
            tar.setBigNumberMode(TarArchiveOutputStream.BIGNUMBER_POSIX);
            tar.setAddPaxHeadersForNonAsciiNames(true);
            // links come last here too
            for (boolean linksNow : new boolean[] {false, true}) {
                for (Item item : items) {
                    if ((item.kind() == Kind.LINK) == linksNow) {
                        put(tar, item);
                    }
                }
            }
        }
    }

    private void put(TarArchiveOutputStream tar, Item item) throws IOException {
        TarArchiveEntry entry;
        if (item.kind() == Kind.LINK) {
            entry = new TarArchiveEntry(item.path(), TarConstants.LF_SYMLINK);
            entry.setLinkName(item.to());
        } else {
            entry = new TarArchiveEntry(item.path());
            entry.setSize(item.size());
            entry.setMode(item.kind() == Kind.PROGRAM ? 0755 : 0644);
        }
        entry.setModTime(FileTime.from(made()));
        tar.putArchiveEntry(entry);
        if (item.kind() != Kind.LINK) {
            try (InputStream content = content(item)) {
                content.transferTo(tar);
            }
        }
        tar.closeArchiveEntry();
    }

    @Override
    public void close() {
        try (list;
                files) {
            LOG.debug("{} is read no more", name);
        } catch (IOException e) {
            LOG.debug("{} could not be closed", name, e);
        }
    }

    /** A piece of a file that several read. */
    private static final class Piece extends InputStream {

        private final FileChannel file;
        private long at;
        private long left;

        Piece(FileChannel file, long at, long left) {
            this.file = file;
            this.at = at;
            this.left = left;
        }

        @Override
        public int read() throws IOException {
            byte[] one = new byte[1];
            return read(one, 0, 1) < 0 ? -1 : one[0] & 0xff;
        }

        @Override
        public int read(byte[] bytes, int from, int most) throws IOException {
            if (most == 0 || left == 0) {
                return most == 0 ? 0 : -1;
            }
            int read = file.read(ByteBuffer.wrap(bytes, from, (int) Math.min(most, left)), at);
            if (read < 0) {
                throw new EOFException("what was written down is too short");
            }
            at += read;
            left -= read;
            return read;
        }
    }
}
