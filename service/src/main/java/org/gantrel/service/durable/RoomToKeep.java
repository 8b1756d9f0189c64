package org.gantrel.service.durable;

import java.io.FilterOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import org.gantrel.service.settings.Settings;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.stereotype.Component;

/** The room on the disk for what runs leave: what others need to start is not taken. */
@Component
public class RoomToKeep {

    private static final int LOOK_EVERY = 4 << 20;

    private final Disk disk;
    private final long least;

    @Autowired
    RoomToKeep(Settings settings) {
        this(Disk.OF_THE_HOST, settings.limits().leastFreeSpace());
    }

    /** @param least how many bytes stay free for others */
    public RoomToKeep(Disk disk, long least) {
        this.disk = disk;
        this.least = least;
    }

    /** How many bytes may still be kept where a folder is. */
    public long left(Path folder) throws IOException {
        return Math.max(0, disk.free(folder) - least);
    }

    /** Why no more is kept, for people. */
    public String sentence() {
        return "there is no room for it on the disk: at least %d MB stay free (least-free-space)"
                .formatted(least >> 20);
    }

    /** Opens a file to be written for as long as there is room; where that ends, so does the file. */
    public OutputStream open(Path file) throws IOException {
        return new FilterOutputStream(Files.newOutputStream(file)) {
            private long granted;
            private boolean over;

            @Override
            public void write(int one) throws IOException {
                take(1);
                out.write(one);
            }

            @Override
            public void write(byte[] bytes, int from, int length) throws IOException {
                take(length);
                out.write(bytes, from, length);
            }

            private void take(int length) throws IOException {
                if (granted < length) {
                    granted = over
                            ? 0
                            : Math.min(LOOK_EVERY, left(file.toAbsolutePath().getParent()));
                    if (granted == 0) {
                        over = true;
                        throw new IOException(sentence());
                    }
                }
                granted -= length;
            }

            @Override
            public void close() throws IOException {
                super.close();
                if (over) {
                    Files.deleteIfExists(file);
                }
            }
        };
    }
}
