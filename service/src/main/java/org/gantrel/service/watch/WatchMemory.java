package org.gantrel.service.watch;

import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Instant;
import java.time.OffsetDateTime;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import javax.sql.DataSource;
import org.gantrel.core.trigger.FolderCourse.Known;
import org.gantrel.core.trigger.FolderCourse.Seen;
import org.gantrel.service.trigger.Listening;
import org.gantrel.service.trigger.WatchNotes;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Propagation;
import org.springframework.transaction.annotation.Transactional;

/** What watches remember: a row for each file, or for each key of a row, by hundreds at a time. */
@Component
@Transactional
class WatchMemory implements WatchNotes {

    /** One file or key, and what is known of it from now on. */
    record Change(String path, Optional<Known> now) {}

    private final WatchStore store;
    private final JdbcTemplate database;
    private final Clock clock;

    WatchMemory(WatchStore store, DataSource database, Clock clock) {
        this.store = store;
        this.database = new JdbcTemplate(database);
        this.clock = clock;
    }

    @Override
    @Transactional(readOnly = true)
    public Optional<Note> of(long job, String trigger) {
        return store.findByJobIdAndTriggerName(job, trigger)
                .map(record -> new Note(record.trouble(), record.lookedAt()));
    }

    /** The watch of a trigger, where it has looked before at the same. */
    @Transactional(readOnly = true)
    public Optional<WatchRecord> find(Listening of, String looksAt) {
        return store.findByJobIdAndTriggerName(of.job(), of.trigger().name())
                .filter(record -> record.looksAt().equals(looksAt));
    }

    /** All that it knows. */
    @Transactional(readOnly = true)
    public Map<String, Known> known(Listening of) {
        Map<String, Known> known = new HashMap<>();
        database.query(
                "select path, size, modified_at, told, fresh, seen_at from watched where job_id = ? and trigger_name = ?",
                row -> {
                    known.put(
                            row.getString(1),
                            new Known(
                                    new Seen(row.getLong(2), instant(row.getObject(3, OffsetDateTime.class))),
                                    row.getBoolean(4),
                                    row.getBoolean(5),
                                    instant(row.getObject(6, OffsetDateTime.class))));
                },
                of.job(),
                of.trigger().name());
        return known;
    }

    private static Instant instant(OffsetDateTime at) {
        return at.toInstant();
    }

    /** Forgets what an earlier watch of the trigger knew, and begins anew. */
    @Transactional(propagation = Propagation.MANDATORY)
    public WatchRecord begin(Listening of, String looksAt) {
        forget(of.job(), of.trigger().name());
        return store.saveAndFlush(new WatchRecord(of.job(), of.trigger().name(), looksAt, clock.instant()));
    }

    /** Forgets a watch that is no more. */
    public void forget(long job, String trigger) {
        database.update("delete from watched where job_id = ? and trigger_name = ?", job, trigger);
        store.findByJobIdAndTriggerName(job, trigger).ifPresent(store::delete);
        store.flush();
    }

    /** The watches that are remembered. */
    @Transactional(readOnly = true)
    public List<WatchRecord> all() {
        return store.findAll();
    }

    /** The record of a watch, to be changed in the transaction under way. */
    @Transactional(propagation = Propagation.MANDATORY)
    public WatchRecord record(Listening of) {
        return store.findByJobIdAndTriggerName(of.job(), of.trigger().name()).orElseThrow();
    }

    /** Writes down what is known of some files from now on. */
    @Transactional(propagation = Propagation.MANDATORY)
    public void remember(Listening of, List<Change> changes) {
        var gone = new ArrayList<Object[]>();
        var there = new ArrayList<Change>();
        for (Change change : changes) {
            if (change.now().isPresent()) {
                there.add(change);
            } else {
                gone.add(new Object[] {of.job(), of.trigger().name(), change.path()});
            }
        }
        database.batchUpdate("delete from watched where job_id = ? and trigger_name = ? and path = ?", gone);
        database.batchUpdate(
                "merge into watched (job_id, trigger_name, path, size, modified_at, told, fresh, seen_at)"
                        + " key (job_id, trigger_name, path) values (?, ?, ?, ?, ?, ?, ?, ?)",
                there,
                500,
                (statement, change) -> set(statement, of, change));
    }

    private static void set(PreparedStatement statement, Listening of, Change change) throws SQLException {
        Known known = change.now().orElseThrow();
        statement.setLong(1, of.job());
        statement.setString(2, of.trigger().name());
        statement.setString(3, change.path());
        statement.setLong(4, known.as().size());
        statement.setObject(5, known.as().modified().atOffset(ZoneOffset.UTC));
        statement.setBoolean(6, known.told());
        statement.setBoolean(7, known.fresh());
        statement.setObject(8, known.since().atOffset(ZoneOffset.UTC));
    }
}
