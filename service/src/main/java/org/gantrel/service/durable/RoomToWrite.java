package org.gantrel.service.durable;

import java.io.IOException;
import java.util.Optional;
import org.gantrel.service.settings.Settings;
import org.springframework.stereotype.Component;

/**
 * Whether there is room for what is written to the database. A write that finds none would close the whole of it; so nothing
 * is begun that would change something while the disk is nearly full, and what only reads goes on.
 */
@Component
public class RoomToWrite {

    /** What all that is under way at one moment may write. */
    private static final long LEAST = 4L << 20;

    private final Settings settings;
    private final Disk disk;
    private volatile Optional<String> complaint = Optional.empty();

    RoomToWrite(Settings settings, Disk disk) {
        this.settings = settings;
        this.disk = disk;
    }

    /**
     * Looks at the disk.
     *
     * @return how much is free, in bytes
     */
    public long look() throws IOException {
        long free = disk.free(settings.data());
        // an administrator who wants no room at all has a file system that does not say how much there is
        long least = Math.min(LEAST, settings.limits().leastFreeSpace());
        // the same words for as long as it lasts
        complaint = free >= least
                ? Optional.empty()
                : Optional.of("the disk of the service is full: less than %d MB are free in its data folder;"
                                .formatted(LEAST >> 20)
                        + " nothing was changed, and it goes on by itself when there is room");
        return free;
    }

    /** Why nothing can be written, as it was found last. */
    public Optional<String> complaint() {
        return complaint;
    }
}
