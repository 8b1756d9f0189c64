package org.gantrel.service.time;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.time.Clock;
import java.time.Instant;
import org.gantrel.service.settings.Settings;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;

/** When the service was there. A file is touched while it lives; its time is when the service was last seen alive. */
@Component
public class Presence {

    private static final Logger LOG = LoggerFactory.getLogger(Presence.class);

    private final Path file;
    private final Instant lastSeen;
    private final Instant upSince;
    private volatile Instant latest;

    Presence(Settings settings, Clock clock) {
        this.file = settings.heartbeatFile();
        this.upSince = clock.instant();
        this.lastSeen = lastSeen(file, upSince);
        this.latest = lastSeen;
        touch(upSince);
    }

    public Instant upSince() {
        return upSince;
    }

    /**
     * Notes that the service lives. A time before the latest is not noted: whoever comes next has to know that the clock was
     * put back, until {@link #follow} says that all is done that follows from it.
     */
    public void touch(Instant now) {
        if (now.isBefore(latest)) {
            return;
        }
        latest = now;
        try {
            if (!Files.exists(file)) {
                Files.createFile(file);
            }
            Files.setLastModifiedTime(file, FileTime.from(now));
        } catch (IOException e) {
            LOG.warn("the time at which the service was last alive cannot be noted: {}", e.getMessage());
        }
    }

    /** Notes times again from then on, after the clock was put back. */
    public void follow(Instant now) {
        latest = now;
        touch(now);
    }

    /** The time before the service came up in which it was not there. */
    public Absence absence() {
        return new Absence(lastSeen, upSince);
    }

    private static Instant lastSeen(Path file, Instant fallback) {
        try {
            return Files.exists(file) ? Files.getLastModifiedTime(file).toInstant() : fallback;
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }
}
