package org.gantrel.service.run;

import java.sql.Timestamp;
import java.time.Duration;
import java.time.Instant;
import java.time.OffsetDateTime;
import java.util.List;
import java.util.Optional;
import javax.sql.DataSource;
import org.gantrel.core.run.Wait;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.stereotype.Component;

/** What runs waited for, and how long for each. Written by the statement: many runs begin to wait at once. */
@Component
public class RunWaits {

    private static final int LONGEST = 300;

    /**
     * One wait of a run.
     *
     * @param until when it was over; nothing while it lasts
     */
    public record Waited(String kind, String on, String what, Instant since, Optional<Instant> until) {}

    private final JdbcTemplate database;

    RunWaits(DataSource database) {
        this.database = new JdbcTemplate(database);
    }

    /** Notes that runs wait for something from now on; whoever waits for it already goes on doing so. */
    void note(List<Long> numbers, Wait by, Instant now) {
        Timestamp at = Timestamp.from(now);
        String on = cut(by.on());
        database.batchUpdate(
                "update run_wait set until = ? where run_number = ? and until is null and not (kind = ? and waited_on = ?)",
                numbers,
                500,
                (statement, number) -> {
                    statement.setTimestamp(1, at);
                    statement.setLong(2, number);
                    statement.setString(3, by.kind().name());
                    statement.setString(4, on);
                });
        database.batchUpdate(
                """
                insert into run_wait (run_number, kind, waited_on, what, since)
                select number, ?, ?, ?, ? from run where number = ? and not exists
                (select 1 from run_wait w where w.run_number = ? and w.until is null)""",
                numbers,
                500,
                (statement, number) -> {
                    statement.setString(1, by.kind().name());
                    statement.setString(2, on);
                    statement.setString(3, cut(by.text()));
                    statement.setTimestamp(4, at);
                    statement.setLong(5, number);
                    statement.setLong(6, number);
                });
    }

    /** Notes a wait that is over already. */
    void noteOver(long number, Wait by, Instant since, Instant until) {
        database.update(
                """
                insert into run_wait (run_number, kind, waited_on, what, since, until)
                select number, ?, ?, ?, ?, ? from run where number = ?""",
                by.kind().name(),
                cut(by.on()),
                cut(by.text()),
                Timestamp.from(since),
                Timestamp.from(until),
                number);
    }

    /** Notes that a run waits no more. */
    void over(long number, Instant now) {
        database.update(
                "update run_wait set until = ? where run_number = ? and until is null", Timestamp.from(now), number);
    }

    /** All that a run waited for, in order. */
    public List<Waited> of(long number) {
        return database.query(
                "select kind, waited_on, what, since, until from run_wait where run_number = ? order by id",
                (row, index) -> new Waited(
                        Wait.Kind.valueOf(row.getString(1)).word(),
                        row.getString(2),
                        row.getString(3),
                        row.getObject(4, OffsetDateTime.class).toInstant(),
                        Optional.ofNullable(row.getObject(5, OffsetDateTime.class))
                                .map(OffsetDateTime::toInstant)),
                number);
    }

    /** How long runs of a job usually wait for their gates: the mean of the latest. */
    public Duration usualForGates(long job) {
        Double seconds = database.queryForObject(
                """
                select avg(s) from (select sum(datediff(second, w.since, w.until)) s from run_wait w join run r on r.number = w.run_number
                where r.job_id = ? and w.kind = 'GATE' and w.until is not null group by w.run_number
                order by w.run_number desc limit 10)""",
                Double.class,
                job);
        return seconds == null ? Duration.ZERO : Duration.ofSeconds(Math.round(seconds));
    }

    private static String cut(String text) {
        return text.length() <= LONGEST ? text : text.substring(0, LONGEST - 3) + "...";
    }
}
