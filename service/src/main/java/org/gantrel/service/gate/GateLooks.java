package org.gantrel.service.gate;

import java.sql.Timestamp;
import java.time.Instant;
import java.time.OffsetDateTime;
import java.util.List;
import javax.sql.DataSource;
import org.gantrel.core.gate.Gates;
import org.gantrel.core.gate.Gates.Look;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** What the gates of runs saw last. */
@Component
public class GateLooks {

    private static final int LONGEST = 1_000;

    /** A gate of a run and what was seen there. */
    public record Kept(int place, String gate, boolean open, String saw, Instant seenAt) {}

    private final JdbcTemplate database;

    GateLooks(DataSource database) {
        this.database = new JdbcTemplate(database);
    }

    @Transactional
    void keep(long run, Gates gates, List<Look> looks, Instant now) {
        for (int i = 0; i < looks.size(); i++) {
            database.update(
                    """
                    merge into run_gate (run_number, place, words, open, saw, seen_at) key (run_number, place)
                    select number, ?, ?, ?, ?, ? from run where number = ?""",
                    i + 1,
                    cut(gates.all().get(i).words()),
                    looks.get(i).open(),
                    cut(looks.get(i).saw()),
                    Timestamp.from(now),
                    run);
        }
    }

    /** In the order of the gates. */
    @Transactional(readOnly = true)
    public List<Kept> of(long run) {
        return database.query(
                "select place, words, open, saw, seen_at from run_gate where run_number = ? order by place",
                (row, index) -> new Kept(
                        row.getInt(1),
                        row.getString(2),
                        row.getBoolean(3),
                        row.getString(4),
                        row.getObject(5, OffsetDateTime.class).toInstant()),
                run);
    }

    private static String cut(String text) {
        return text.length() <= LONGEST ? text : text.substring(0, LONGEST - 3) + "...";
    }
}
