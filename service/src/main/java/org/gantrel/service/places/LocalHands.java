package org.gantrel.service.places;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.channels.Channels;
import java.nio.channels.SeekableByteChannel;
import java.nio.file.AtomicMoveNotSupportedException;
import java.nio.file.NoSuchFileException;
import java.nio.file.NotDirectoryException;
import java.nio.file.Path;
import java.nio.file.attribute.BasicFileAttributes;
import java.nio.file.attribute.PosixFileAttributes;
import java.util.List;
import java.util.zip.GZIPOutputStream;

/** Works with files in this process, as its own account. */
public final class LocalHands implements Hands {

    private static final String GZIP = ".gz";

    private final Reachable reach;

    public LocalHands(Reachable reach) {
        this.reach = reach;
    }

    @Override
    public Entry look(String file) throws IOException {
        Path real = file(file);
        try (Folder folder = Folder.enter(real.getParent())) {
            BasicFileAttributes found = folder.look(real.getFileName())
                    .filter(BasicFileAttributes::isRegularFile)
                    .orElseThrow(() -> new NoSuchFileException(file));
            return new Entry(file, found.size(), found.lastModifiedTime().toInstant());
        }
    }

    @Override
    public InputStream open(String file) throws IOException {
        Path real = file(file);
        try (Folder folder = Folder.enter(real.getParent())) {
            return Channels.newInputStream(folder.read(real.getFileName()));
        }
    }

    /** The real path of what may be a file; the root of all is none. */
    private Path file(String given) throws IOException {
        Path real = reach.real(given);
        if (real.getParent() == null) {
            throw new NoSuchFileException(given);
        }
        return real;
    }

    @Override
    public boolean isFolder(String folder) throws IOException {
        try {
            Folder.enter(reach.real(folder)).close();
            return true;
        } catch (NoSuchFileException | NotDirectoryException e) {
            return false;
        }
    }

    @Override
    public List<Entry> list(String folder, List<String> globs, int deepest) throws IOException {
        var found = new Listing(globs);
        try (Folder root = Folder.enter(reach.real(folder))) {
            walk(root, root.path(), deepest, found);
        }
        return found.sorted();
    }

    private void walk(Folder at, Path root, int deepest, Listing found) throws IOException {
        for (Path name : at.names()) {
            BasicFileAttributes what = at.look(name).orElse(null);
            Path below = root.relativize(at.path().resolve(name));
            if (what != null
                    && what.isDirectory()
                    && deepest > 1
                    && !isNever(at.path().resolve(name))) {
                try (Folder inner = at.within(name)) {
                    walk(inner, root, deepest - 1, found);
                } catch (NoSuchFileException | NotDirectoryException e) {
                    // it went meanwhile
                    continue;
                }
            } else if (what != null) {
                found.add(below.toString(), what);
            }
        }
    }

    private boolean isNever(Path path) {
        try {
            reach.judge("", path);
            return false;
        } catch (NotReachable e) {
            return true;
        }
    }

    @Override
    public void act(Deed deed, String root, String path, String to) throws IOException {
        Path realRoot = reach.real(root);
        Path file = realRoot.resolve(path).normalize();
        if (!file.startsWith(realRoot) || file.equals(realRoot)) {
            throw new NotReachable("'" + path + "' leaves " + root);
        }
        reach.judge(path, file);
        Path name = file.getFileName();
        try (Folder from = Folder.enter(file.getParent())) {
            if (from.look(name).filter(BasicFileAttributes::isRegularFile).isEmpty()) {
                throw new NoSuchFileException(file.toString());
            }
            if (deed == Deed.DELETE) {
                from.delete(name);
                return;
            }
            Path below = realRoot.relativize(file);
            Path target = to.isEmpty() ? file : reach.made(to).resolve(below);
            try (Folder into = Folder.enter(reach.made(target.getParent().toString()))) {
                put(deed, from, name, into);
            }
        }
    }

    private static void put(Deed deed, Folder from, Path name, Folder into) throws IOException {
        switch (deed) {
            case MOVE -> move(from, name, into, name);
            case PUT_AWAY -> move(from, name, into, vacant(into, name.toString(), ""));
            case COPY -> copy(from, name, into, name, false);
            default -> {
                copy(from, name, into, vacant(into, name.toString(), GZIP), true);
                from.delete(name);
            }
        }
    }

    private static void move(Folder from, Path name, Folder into, Path as) throws IOException {
        try {
            from.move(name, into, as);
        } catch (AtomicMoveNotSupportedException e) {
            copy(from, name, into, as, false);
            from.delete(name);
        }
    }

    /** Under a name of its own first, so that whoever looks never sees a part; age and rights stay those of the file. */
    private static void copy(Folder from, Path name, Folder into, Path as, boolean packed) throws IOException {
        Path part = vacant(into, "." + as + ".part", "");
        PosixFileAttributes given = from.attributes(name).readAttributes();
        try {
            try (SeekableByteChannel read = from.read(name);
                    SeekableByteChannel made = into.make(part);
                    InputStream in = Channels.newInputStream(read);
                    OutputStream out = packed
                            ? new GZIPOutputStream(Channels.newOutputStream(made))
                            : Channels.newOutputStream(made)) {
                in.transferTo(out);
            }
            into.attributes(part).setPermissions(given.permissions());
            into.attributes(part).setTimes(given.lastModifiedTime(), null, null);
            into.move(part, into, as);
        } catch (IOException e) {
            if (into.look(part).isPresent()) {
                into.delete(part);
            }
            throw e;
        }
    }

    /** A name that nothing has yet: what was put away before is not lost to a later file of the same name. */
    private static Path vacant(Folder folder, String name, String ending) throws IOException {
        Path free = Path.of(name + ending);
        for (int i = 2; folder.look(free).isPresent(); i++) {
            free = Path.of(name + "." + i + ending);
        }
        return free;
    }

    @Override
    public void close() {
        // holds nothing open between calls
    }
}
