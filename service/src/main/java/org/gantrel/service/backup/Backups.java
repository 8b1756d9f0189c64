package org.gantrel.service.backup;

import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.file.FileSystem;
import java.nio.file.FileSystems;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.FileAttribute;
import java.nio.file.attribute.PosixFilePermission;
import java.nio.file.attribute.PosixFilePermissions;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.locks.ReentrantLock;
import java.util.stream.Stream;
import javax.sql.DataSource;
import org.gantrel.core.backup.BackupPlan;
import org.gantrel.core.event.EventType;
import org.gantrel.service.journal.Notices;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.settings.Settings;
import org.gantrel.service.time.Threads;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.SmartLifecycle;
import org.springframework.stereotype.Component;

/**
 * Backs up the database, with what it is opened with, while it is in use, once a day, into a folder of which the newest few stay. A backup has its name only
 * once it is whole and on the disk. What fails is tried again, and told of.
 */
@Component
public class Backups implements SmartLifecycle {

    private static final Logger LOG = LoggerFactory.getLogger(Backups.class);
    private static final long BETWEEN_LOOKS_SECONDS = 30;
    private static final FileAttribute<Set<PosixFilePermission>> PRIVATE =
            PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------"));

    /** A backup that is there. */
    public record Backup(String name, Instant at, long bytes) {}

    /** One that could not be made. */
    public record Trouble(Instant at, String message) {}

    private final Settings settings;
    private final DataSource database;
    private final Notices notices;
    private final Clock clock;
    private final ReentrantLock making = new ReentrantLock();
    private ScheduledExecutorService timer;
    private volatile Trouble trouble;

    Backups(Settings settings, DataSource database, Notices notices, Clock clock) {
        this.settings = settings;
        this.database = database;
        this.notices = notices;
        this.clock = clock;
    }

    @Override
    public void start() {
        timer = Threads.timer("backup");
        if (settings.backup().isPresent()) {
            timer.scheduleWithFixedDelay(this::look, 0, BETWEEN_LOOKS_SECONDS, TimeUnit.SECONDS);
        }
    }

    @Override
    public void stop() {
        timer.shutdown();
        timer = null;
    }

    @Override
    public boolean isRunning() {
        return timer != null;
    }

    /** Makes the one that is due, if one is. */
    void look() {
        try {
            if (!next().orElseThrow().isAfter(clock.instant())) {
                make();
            }
        } catch (Refusal e) {
            LOG.debug("a backup is under way");
        } catch (Throwable e) {
            LOG.error("a backup could not be made; it is tried again", e);
        }
    }

    /** When the next one is made; nothing where no folder is set. */
    public Optional<Instant> next() {
        Instant now = clock.instant();
        return settings.backup().map(to -> to.plan()
                .next(
                        // one of a time that is to come says nothing: the clock was wrong, or another's
                        all().stream()
                                .map(Backup::at)
                                .filter(at -> !at.isAfter(now))
                                .findFirst(),
                        Optional.ofNullable(trouble).map(Trouble::at).filter(at -> !at.isAfter(now)),
                        now));
    }

    /** What went wrong at the latest try; nothing where it went well. */
    public Optional<Trouble> trouble() {
        return Optional.ofNullable(trouble);
    }

    /** Those that are there, the newest first. */
    public List<Backup> all() {
        Optional<Path> folder = settings.backup().map(Settings.Backup::folder).filter(Files::isDirectory);
        if (folder.isEmpty()) {
            return List.of();
        }
        try (Stream<Path> files = Files.list(folder.get())) {
            return files.flatMap(file -> BackupPlan.madeAt(file.getFileName().toString()).stream()
                            .map(at -> new Backup(
                                    file.getFileName().toString(),
                                    at,
                                    file.toFile().length())))
                    .sorted(Comparator.comparing(Backup::at).reversed())
                    .toList();
        } catch (IOException e) {
            LOG.warn("the folder of backups cannot be read", e);
            return List.of();
        }
    }

    /**
     * Makes one now, which may take a while.
     *
     * @return it; nothing where it failed, which {@link #trouble} explains
     * @throws Refusal where no folder is set, or one is being made
     */
    public Optional<Backup> make() {
        Settings.Backup to = settings.backup()
                .orElseThrow(() -> Refusal.conflict(
                        "no folder for backups is set; backup-to says which, in gantrel.yaml for one"));
        if (!making.tryLock()) {
            throw Refusal.conflict("a backup is being made already");
        }
        try {
            Backup made = write(to);
            trouble = null;
            thin(to);
            notices.tell(
                    EventType.BACKUP_MADE,
                    "",
                    Map.of("message", "the backup " + made.name() + " was made, " + made.bytes() + " bytes"));
            return Optional.of(made);
        } catch (IOException | SQLException | RuntimeException e) {
            LOG.warn("the backup could not be made", e);
            boolean known = trouble != null;
            trouble = new Trouble(clock.instant(), said(e));
            if (!known) {
                notices.tell(
                        EventType.BACKUP_FAILED,
                        "",
                        Map.of("message", "the backup into " + to.folder() + " failed: " + said(e)));
            }
            return Optional.empty();
        } finally {
            making.unlock();
        }
    }

    private Backup write(Settings.Backup to) throws IOException, SQLException {
        Instant now = clock.instant();
        if (!Files.isDirectory(to.folder())) {
            Files.createDirectories(
                    to.folder(), PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rwx------")));
        }
        // made where nobody else may write: in a folder of others' something else could be put in its place meanwhile
        Path part = settings.data().resolve("backup.part");
        try {
            // nobody else reads what all teams keep, not even while it is being written
            Files.deleteIfExists(part);
            Files.createFile(part, PRIVATE);
            try (Connection connection = database.getConnection();
                    PreparedStatement backup = connection.prepareStatement("backup to ?")) {
                backup.setString(1, part.toString());
                backup.execute();
            }
            try (FileSystem zip = FileSystems.newFileSystem(part)) {
                if (!Files.exists(zip.getPath("/" + settings.databaseFile().getFileName() + ".mv.db"))) {
                    throw new IOException("it holds no database");
                }
                // without it the database cannot be opened; the key is kept apart
                Path password = settings.databasePasswordFile();
                Files.copy(password, zip.getPath("/" + password.getFileName()));
                Files.writeString(zip.getPath("/" + settings.putBackFile().getFileName()), BackupPlan.name(now));
            }
            Path whole = to.folder().resolve(BackupPlan.name(now));
            return new Backup(whole.getFileName().toString(), now, bring(part, whole));
        } finally {
            Files.deleteIfExists(part);
        }
    }

    /** Copies a file to where it is to be: there under its name once it is whole and on the disk. @return its bytes */
    private static long bring(Path from, Path to) throws IOException {
        Path arriving = to.resolveSibling(".gantrel.part");
        Files.deleteIfExists(arriving);
        // new, so that nothing that somebody has put there is followed or written to
        try (FileChannel source = FileChannel.open(from);
                FileChannel target = FileChannel.open(
                        arriving, Set.of(StandardOpenOption.CREATE_NEW, StandardOpenOption.WRITE), PRIVATE)) {
            long bytes = source.size();
            for (long at = 0; at < bytes; ) {
                at += source.transferTo(at, bytes - at, target);
            }
            target.force(true);
            Files.move(arriving, to, StandardCopyOption.ATOMIC_MOVE);
            return bytes;
        } finally {
            Files.deleteIfExists(arriving);
        }
    }

    private void thin(Settings.Backup to) {
        List<String> names = all().stream().map(Backup::name).toList();
        for (String name : to.plan().goes(names, clock.instant())) {
            try {
                Files.deleteIfExists(to.folder().resolve(name));
            } catch (IOException e) {
                LOG.warn("the old backup {} could not be deleted", name, e);
            }
        }
    }

    private static String said(Exception error) {
        return error.getClass().getSimpleName() + ": "
                + String.valueOf(error.getMessage()).split("\n")[0];
    }
}
