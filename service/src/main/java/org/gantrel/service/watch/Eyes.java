package org.gantrel.service.watch;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.NoSuchFileException;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.ResultSetMetaData;
import java.sql.SQLException;
import java.time.Instant;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.gantrel.core.credential.Credential;
import org.gantrel.core.job.Job;
import org.gantrel.core.trigger.FileWatch;
import org.gantrel.core.trigger.FolderCourse.Known;
import org.gantrel.core.trigger.FolderCourse.Seen;
import org.gantrel.core.trigger.RowWatch;
import org.gantrel.service.credential.Credentials;
import org.gantrel.service.execution.AccountHands;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.places.FileTrouble;
import org.gantrel.service.places.Hands;
import org.gantrel.service.places.NotReachable;
import org.gantrel.service.remote.RemoteCommands;
import org.gantrel.service.trigger.Listening;
import org.gantrel.service.work.Databases;
import org.springframework.stereotype.Component;

/** Looks at folders and queries with the rights of the job that waits. May take long. */
@Component
class Eyes {

    private static final int MOST_REMOTE_BYTES = 12_000_000;

    /** What start-up files of an account there may say before. */
    private static final int REMOTE_GREETING = 100_000;

    private static final int MOST_ROWS = 10_000;
    private static final int LONGEST_VALUE = 500;
    private static final int MOST_COLUMNS = 20;
    private static final int QUERY_SECONDS = 60;
    /** What is said of a folder that is not there: what is in it when it comes has come with it. */
    static final String NO_FOLDER = "there is no folder ";

    private static final int LONGEST_PATH = 4_000;

    private final AccountHands hands;
    private final Jobs jobs;
    private final Credentials credentials;
    private final RemoteCommands remote;
    private final Databases databases;

    Eyes(AccountHands hands, Jobs jobs, Credentials credentials, RemoteCommands remote, Databases databases) {
        this.hands = hands;
        this.jobs = jobs;
        this.credentials = credentials;
        this.remote = remote;
        this.databases = databases;
    }

    private Job job(Listening of) {
        return jobs.current(jobs.withId(of.job()));
    }

    /** Looks at all files. */
    Sight whole(Listening of, FileWatch watch, Map<String, Known> known) throws IOException, InterruptedException {
        Map<String, Seen> there = watch.host().isEmpty() ? here(of, watch) : elsewhere(of, watch);
        Map<String, Optional<Seen>> looked = new HashMap<>();
        known.keySet().forEach(path -> looked.put(path, Optional.empty()));
        there.forEach((path, seen) -> {
            if (watch.isFor(path) && path.length() <= LONGEST_PATH) {
                looked.put(path, Optional.of(seen));
            }
        });
        return new Sight(looked, Set.copyOf(there.keySet()), Map.of());
    }

    private Map<String, Seen> here(Listening of, FileWatch watch) throws IOException {
        try (Hands work = hands.of(of.team(), job(of))) {
            if (!work.isFolder(watch.folder())) {
                throw new IOException(missing(watch));
            }
            return listed(work, watch);
        }
    }

    private static Map<String, Seen> listed(Hands work, FileWatch watch) throws IOException {
        Map<String, Seen> there = new HashMap<>();
        work.list(watch.folder(), List.of("**"), watch.deepest())
                .forEach(entry -> there.put(entry.path(), new Seen(entry.size(), entry.modified())));
        return there;
    }

    private static String missing(FileWatch watch) {
        return NO_FOLDER + watch.folder() + "; it is watched from when it comes";
    }

    private Map<String, Seen> elsewhere(Listening of, FileWatch watch) throws IOException, InterruptedException {
        Credential credential = credentials.useAgain(watch.host(), of.team(), of.jobName());
        String folder = "'" + watch.folder().replace("'", "'\\''") + "'";
        String said = remote.said(
                credential,
                "[ -d %s ] || { echo none; exit 0; }%nfind %s -maxdepth %d -type f -printf '%%s %%T@ %%P\\0' | head -c %d%n"
                        .formatted(folder, folder, watch.deepest(), MOST_REMOTE_BYTES),
                MOST_REMOTE_BYTES + REMOTE_GREETING);
        if (said.startsWith("none")) {
            throw new IOException(missing(watch) + ", on " + watch.host());
        }
        if (said.getBytes(StandardCharsets.UTF_8).length >= MOST_REMOTE_BYTES) {
            throw new IOException("the folder holds too many files to be watched");
        }
        Map<String, Seen> there = new HashMap<>();
        for (String line : said.split("\0")) {
            String[] parts = line.split(" ", 3);
            if (parts.length == 3 && parts[0].matches("\\d{1,18}") && parts[1].matches("\\d{1,12}(\\.\\d*)?")) {
                String[] time = parts[1].split("\\.");
                long nanos = time.length < 2 ? 0 : Long.parseLong((time[1] + "000000000").substring(0, 9));
                there.put(
                        parts[2],
                        new Seen(Long.parseLong(parts[0]), Instant.ofEpochSecond(Long.parseLong(time[0]), nanos)));
            }
        }
        return there;
    }

    /** Looks at some files of this host. @param paths from the folder */
    Sight some(Listening of, FileWatch watch, Set<String> paths) throws IOException {
        Map<String, Optional<Seen>> looked = new HashMap<>();
        Set<String> all = new HashSet<>();
        try (Hands work = hands.of(of.team(), job(of))) {
            if (!work.isFolder(watch.folder())) {
                throw new IOException(missing(watch));
            }
            // a name that is no text is found by a list only
            Map<String, Seen> listed = paths.stream().anyMatch(FileTrouble::isNoText) ? listed(work, watch) : Map.of();
            for (String path : paths) {
                boolean marker = !watch.marker().isEmpty() && path.endsWith(watch.marker());
                String file = marker
                        ? path.substring(0, path.length() - watch.marker().length())
                        : path;
                if (watch.isFor(file) && file.length() <= LONGEST_PATH) {
                    looked.put(
                            file,
                            FileTrouble.isNoText(file)
                                    ? Optional.ofNullable(listed.get(file))
                                    : one(work, watch.folder() + "/" + file));
                    if (!watch.marker().isEmpty()
                            && one(work, watch.folder() + "/" + file + watch.marker())
                                    .isPresent()) {
                        all.add(file + watch.marker());
                    }
                }
            }
        }
        return new Sight(looked, all, Map.of());
    }

    private static Optional<Seen> one(Hands work, String path) throws IOException {
        try {
            Hands.Entry entry = work.look(path);
            return Optional.of(new Seen(entry.size(), entry.modified()));
        } catch (NoSuchFileException | NotReachable e) {
            return Optional.empty();
        }
    }

    /** Asks a query for its rows, by their key. */
    Sight rows(Listening of, RowWatch watch, Map<String, Known> known) throws SQLException {
        Credential credential = credentials.useAgain(watch.credential(), of.team(), of.jobName());
        Map<String, Map<String, String>> values = new LinkedHashMap<>();
        try (Connection connection = databases.connect(credential)) {
            connection.setReadOnly(true);
            connection.setAutoCommit(false);
            try (PreparedStatement statement = connection.prepareStatement(watch.query())) {
                statement.setQueryTimeout(QUERY_SECONDS);
                statement.setMaxRows(MOST_ROWS + 1);
                try (ResultSet rows = statement.executeQuery()) {
                    read(rows, watch, values);
                }
            } finally {
                connection.rollback();
            }
        }
        if (values.size() > MOST_ROWS) {
            throw new SQLException("the query gives more than " + MOST_ROWS + " rows");
        }
        Map<String, Optional<Seen>> looked = new HashMap<>();
        known.keySet().forEach(key -> looked.put(key, Optional.empty()));
        values.keySet().forEach(key -> looked.put(key, Optional.of(new Seen(0, Instant.EPOCH))));
        return new Sight(looked, Set.of(), values);
    }

    private static void read(ResultSet rows, RowWatch watch, Map<String, Map<String, String>> values)
            throws SQLException {
        ResultSetMetaData columns = rows.getMetaData();
        while (rows.next()) {
            String key = rows.getString(watch.key());
            Map<String, String> row = new LinkedHashMap<>();
            for (int i = 1; i <= Math.min(columns.getColumnCount(), MOST_COLUMNS); i++) {
                String value = rows.getString(i);
                row.put(columns.getColumnLabel(i).toLowerCase(Locale.ROOT), value == null ? "" : cut(value));
            }
            if (key != null && key.length() <= LONGEST_VALUE) {
                values.put(key, row);
            }
        }
    }

    private static String cut(String value) {
        return value.length() <= LONGEST_VALUE ? value : value.substring(0, LONGEST_VALUE);
    }
}
