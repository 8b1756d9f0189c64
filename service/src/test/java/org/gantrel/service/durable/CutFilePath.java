package org.gantrel.service.durable;

import com.zaxxer.hikari.HikariDataSource;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.channels.FileLock;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import org.h2.store.fs.FileBaseDefault;
import org.h2.store.fs.FilePath;
import org.h2.store.fs.FilePathWrapper;

/**
 * A layer under H2 that loses at a cut what was not forced. What is written is put through and remembered with what
 * stood there before; forcing forgets it; a cut takes back a random part of what is remembered, as a disk does that
 * wrote some of it.
 */
public final class CutFilePath extends FilePathWrapper {

    /** A write that was not forced yet. */
    private record Unforced(FileChannel file, long at, byte[] before, long sizeBefore) {}

    private static final List<Unforced> UNFORCED = new ArrayList<>();
    private static boolean off;
    private static int left;
    private static int lost;
    private static Random random = new Random(0);

    /** Connections to a database on a disk whose power can be cut. */
    static HikariDataSource pool(Path file) {
        FilePath.register(new CutFilePath());
        var pool = new HikariDataSource();
        pool.setJdbcUrl(DatabaseUrl.of("cut:", file));
        pool.setUsername("gantrel");
        pool.setPassword("");
        pool.setMaximumPoolSize(3);
        pool.setMinimumIdle(0);
        return pool;
    }

    static synchronized void powerOn(long seed) {
        UNFORCED.clear();
        off = false;
        left = Integer.MAX_VALUE;
        lost = 0;
        random = new Random(seed);
    }

    /** Lets the power go after so many more writes. */
    static synchronized void cutAfter(int writes) {
        left = writes;
    }

    static synchronized int lost() {
        return lost;
    }

    static synchronized void cut() {
        if (off) {
            return;
        }
        off = true;
        // the latest first, so that what stood there before is what comes back; a prefix of them may have reached the
        // disk
        int reached = UNFORCED.isEmpty() ? 0 : random.nextInt(UNFORCED.size() + 1);
        for (int i = UNFORCED.size() - 1; i >= reached; i--) {
            Unforced write = UNFORCED.get(i);
            lost++;
            try {
                if (write.before().length > 0) {
                    write.file().write(ByteBuffer.wrap(write.before()), write.at());
                }
                if (write.file().size() > write.sizeBefore()) {
                    write.file().truncate(write.sizeBefore());
                }
            } catch (IOException e) {
                throw new IllegalStateException(e);
            }
        }
        UNFORCED.clear();
    }

    @Override
    public String getScheme() {
        return "cut";
    }

    @Override
    public FileChannel open(String mode) throws IOException {
        return new CutFile(super.open(mode));
    }

    private static final class CutFile extends FileBaseDefault {
        private final FileChannel file;

        private CutFile(FileChannel file) {
            this.file = file;
        }

        @Override
        public long size() throws IOException {
            return file.size();
        }

        @Override
        public int read(ByteBuffer into, long position) throws IOException {
            return file.read(into, position);
        }

        @Override
        public int write(ByteBuffer from, long position) throws IOException {
            synchronized (CutFilePath.class) {
                if (!off && left-- <= 0) {
                    cut();
                }
                if (off) {
                    throw new IOException("the power is off");
                }
                long size = file.size();
                var before = ByteBuffer.allocate((int) Math.max(0, Math.min(from.remaining(), size - position)));
                while (before.hasRemaining() && file.read(before, position + before.position()) >= 0) {
                    continue;
                }
                UNFORCED.add(new Unforced(file, position, Arrays.copyOf(before.array(), before.position()), size));
                return file.write(from, position);
            }
        }

        @Override
        public void force(boolean metadata) throws IOException {
            synchronized (CutFilePath.class) {
                if (off) {
                    throw new IOException("the power is off");
                }
                UNFORCED.removeIf(write -> write.file() == file);
            }
        }

        @Override
        protected void implTruncate(long size) throws IOException {
            synchronized (CutFilePath.class) {
                if (off) {
                    throw new IOException("the power is off");
                }
                // a file that is cut short was forced before, or it would come back longer than it was
                file.truncate(size);
                UNFORCED.removeIf(write -> write.file() == file && write.at() >= size);
            }
        }

        @Override
        public FileLock tryLock(long position, long size, boolean shared) throws IOException {
            return file.tryLock(position, size, shared);
        }

        @Override
        protected void implCloseChannel() throws IOException {
            // kept open: a cut still has to take back what was written through it
        }
    }
}
