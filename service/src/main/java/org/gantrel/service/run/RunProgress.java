package org.gantrel.service.run;

import java.sql.Timestamp;
import java.time.Clock;
import java.time.Instant;
import java.time.OffsetDateTime;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import javax.sql.DataSource;
import org.gantrel.core.run.Progress;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.journal.Journal;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** How far runs say they are. The latest that each said is kept. */
@Component
public class RunProgress {

    private static final ValuesColumn JSON = new ValuesColumn();

    /**
     * What a run said last.
     *
     * @param share from 0 to 1; missing where it does not say
     */
    public record Said(Double share, String text, Map<String, String> values, Instant at) {}

    private final JdbcTemplate database;
    private final Runs runs;
    private final Jobs jobs;
    private final Journal journal;
    private final Clock clock;

    RunProgress(DataSource database, Runs runs, Jobs jobs, Journal journal, Clock clock) {
        this.database = new JdbcTemplate(database);
        this.runs = runs;
        this.jobs = jobs;
        this.journal = journal;
        this.clock = clock;
    }

    /** Notes what a run says, its secrets covered. */
    @Transactional
    public void note(long number, Progress progress) {
        int written = database.update(
                """
                merge into run_progress (run_number, share, text, told, at) key (run_number)
                select number, ?, ?, ?, ? from run where number = ? and state = 'RUNNING'""",
                progress.share().orElse(null),
                progress.text(),
                JSON.convertToDatabaseColumn(progress.values()),
                Timestamp.from(clock.instant()),
                number);
        if (written > 0) {
            runs.find(number)
                    .ifPresent(run ->
                            journal.write("gantrel.run.changed", number, jobs.teamOf(run.jobId()), Ledger.about(run)));
        }
    }

    /** What a run said last; nothing where it said nothing. */
    @Transactional(readOnly = true)
    public Optional<Said> of(long number) {
        return Optional.ofNullable(of(List.of(number)).get(number));
    }

    /** The same of many. */
    @Transactional(readOnly = true)
    public Map<Long, Said> of(Collection<Long> numbers) {
        var found = new HashMap<Long, Said>();
        if (!numbers.isEmpty()) {
            String marks = numbers.stream().map(number -> "?").collect(Collectors.joining(", "));
            database.query(
                    "select run_number, share, text, told, at from run_progress where run_number in (" + marks + ")",
                    row -> {
                        double share = row.getDouble(2);
                        found.put(
                                row.getLong(1),
                                new Said(
                                        row.wasNull() ? null : share,
                                        row.getString(3),
                                        JSON.convertToEntityAttribute(row.getString(4)),
                                        row.getObject(5, OffsetDateTime.class).toInstant()));
                    },
                    numbers.toArray());
        }
        return found;
    }
}
