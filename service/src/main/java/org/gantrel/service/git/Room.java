package org.gantrel.service.git;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;

/** The room on the disk for one repository while it comes: what others need of it is not taken. */
final class Room {

    private static final long MOST_BYTES = 2_000_000_000;
    private static final long LASTS_NANOS = 200_000_000;

    private final Path folder;
    private final long least;
    private final long before;
    private long looked = System.nanoTime();
    private boolean gone;

    /** @param folder where it comes to @param least how many bytes stay free for others */
    Room(Path folder, long least) throws IOException {
        this.folder = Files.createDirectories(folder);
        this.least = least;
        this.before = free();
        this.gone = before < least;
    }

    private long free() throws IOException {
        return Files.getFileStore(folder).getUsableSpace();
    }

    /** Whether it has taken what it may. Asked often, and looked at now and then. */
    synchronized boolean isGone() {
        if (!gone && System.nanoTime() - looked > LASTS_NANOS) {
            looked = System.nanoTime();
            try {
                long now = free();
                gone = now < least || before - now > MOST_BYTES;
            } catch (IOException e) {
                gone = true;
            }
        }
        return gone;
    }
}
