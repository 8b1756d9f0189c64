package org.gantrel.service.database;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Duration;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Properties;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import org.gantrel.service.settings.Settings;
import org.gantrel.service.time.Threads;
import org.springframework.beans.factory.DisposableBean;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.stereotype.Component;

/**
 * Connects to databases, in processes beside the service: what a database answers may take any memory, and its driver is the
 * work of others. Each who signs in has a process; one that nobody has used for a minute is ended. Where more sign in at a time
 * than there may be processes, some share one.
 */
@Component
public class DatabaseProcesses implements DisposableBean {

    static final int MOST = 8;
    private static final int MEMORY = 256;
    private static final long UNUSED_SECONDS = 60;
    private static final long LOOK_SECONDS = 10;

    private final int memory;
    private final Path temporary;
    private final Path drivers;
    private final LargeRows room = new LargeRows();
    private final Map<String, DatabaseProcess> processes = new HashMap<>();
    private final ScheduledExecutorService looks = Threads.timer("databases");

    @Autowired
    DatabaseProcesses(Settings settings) {
        this(settings, MEMORY);
    }

    /** @param memory what each process may take for what databases answer, in MB */
    DatabaseProcesses(Settings settings, int memory) {
        this.memory = memory;
        temporary = settings.data().resolve("tmp");
        drivers = settings.data().resolve("drivers").toAbsolutePath();
        looks.scheduleWithFixedDelay(this::look, LOOK_SECONDS, LOOK_SECONDS, TimeUnit.SECONDS);
    }

    /** A process, and whether it was there before. */
    private record Found(DatabaseProcess process, boolean again) {}

    /**
     * A connection.
     *
     * @param whose the name by which it signs in
     * @param patience how long each of its answers is waited for; {@link Connection#abort} ends that at once
     * @throws SQLException where the database cannot be reached or refuses
     * @throws DriverMissing where no driver takes the address; the message is for people
     */
    public Connection connect(String whose, Duration patience, String url, Properties properties) throws SQLException {
        while (true) {
            Found found;
            try {
                found = take(whose);
            } catch (IOException e) {
                throw new SQLException("no process to work on databases can be started: " + e.getMessage(), e);
            }
            try {
                return Link.open(found.process(), room, patience, url, drivers.toString(), properties);
            } catch (DatabaseProcess.Gone e) {
                if (!found.again()) {
                    throw e;
                }
                // it had ended before this was asked, or through somebody else
            } finally {
                found.process().closes();
            }
        }
    }

    /** The process counts as used until it is given back, so that nobody ends it in between. */
    private synchronized Found take(String whose) throws IOException {
        processes.values().removeIf(each -> !each.isAlive());
        DatabaseProcess known = processes.get(whose);
        boolean again = known != null;
        if (known == null) {
            List<DatabaseProcess> all = processes.values().stream().distinct().toList();
            known = all.size() < MOST ? fresh() : freed(all).orElse(null);
            if (known == null) {
                known = all.stream()
                        .min(Comparator.comparingInt(DatabaseProcess::open))
                        .orElseThrow();
                again = true;
            }
            processes.put(whose, known);
        }
        known.opens();
        return new Found(known, again);
    }

    private DatabaseProcess fresh() throws IOException {
        return new DatabaseProcess(Files.createDirectories(temporary).toAbsolutePath(), memory);
    }

    /** A new process in place of one that nobody uses. */
    private Optional<DatabaseProcess> freed(List<DatabaseProcess> all) throws IOException {
        Optional<DatabaseProcess> free =
                all.stream().filter(each -> each.isFree(0)).findFirst();
        if (free.isEmpty()) {
            return Optional.empty();
        }
        end(free.get());
        return Optional.of(fresh());
    }

    private void end(DatabaseProcess process) {
        processes.values().removeIf(each -> each == process);
        process.close();
    }

    private synchronized void look() {
        processes.values().stream()
                .distinct()
                .filter(each -> each.isFree(TimeUnit.SECONDS.toNanos(UNUSED_SECONDS)))
                .toList()
                .forEach(this::end);
    }

    @Override
    public synchronized void destroy() {
        looks.shutdownNow();
        processes.values().forEach(DatabaseProcess::close);
        processes.clear();
    }
}
