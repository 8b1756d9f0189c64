package org.gantrel.service.sweep;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.function.BiConsumer;
import org.gantrel.core.expression.Bindings;
import org.gantrel.core.job.Job;
import org.gantrel.core.parameter.Parameter;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.roster.Roster;
import org.gantrel.core.text.Nearest;
import org.gantrel.service.roster.RosterRecord;
import org.gantrel.service.roster.Rosters;
import org.gantrel.service.roster.WrittenRows;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.RunValues;
import org.gantrel.service.run.Runs;
import org.gantrel.service.run.SweepRequest;
import org.gantrel.service.settings.Settings;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.beans.factory.DisposableBean;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionTemplate;

/** Brings the rows of a sweep together, in a thread of its own: a source may be slow, and there may be many rows. */
@Component
public class Drawing implements DisposableBean {

    private static final Logger LOG = LoggerFactory.getLogger(Drawing.class);

    private final Sweeps sweeps;
    private final Rosters rosters;
    private final WrittenRows written;
    private final Runs runs;
    private final RunValues values;
    private final RowSource source;
    private final TransactionTemplate transaction;
    private final int most;
    private final ExecutorService threads = Executors.newFixedThreadPool(2, task -> {
        var thread = new Thread(task, "drawing");
        thread.setDaemon(true);
        return thread;
    });

    Drawing(
            Sweeps sweeps,
            Rosters rosters,
            WrittenRows written,
            Runs runs,
            RunValues values,
            RowSource source,
            TransactionTemplate transaction,
            Settings settings) {
        this.most = settings.limits().sweepRows();
        this.sweeps = sweeps;
        this.rosters = rosters;
        this.written = written;
        this.runs = runs;
        this.values = values;
        this.source = source;
        this.transaction = transaction;
    }

    /** Begins to draw, and tells when it is done: the sweep, and why it could not be done where that is so. */
    public void begin(long sweep, BiConsumer<Long, Optional<String>> done) {
        threads.execute(() -> {
            try {
                draw(sweep);
                done.accept(sweep, Optional.empty());
            } catch (InvalidException e) {
                giveUp(sweep, Runs.sentence(e), done);
            } catch (Throwable e) {
                LOG.debug("sweep {}", sweep, e);
                giveUp(sweep, String.valueOf(e.getMessage() == null ? e : e.getMessage()), done);
            }
        });
    }

    /** Rows of a drawing that did not come to its end are no rows of the sweep. */
    private void giveUp(long sweep, String why, BiConsumer<Long, Optional<String>> done) {
        try {
            transaction.executeWithoutResult(status -> sweeps.beginAgain(sweep));
        } catch (RuntimeException e) {
            LOG.warn("the rows of sweep {} could not be taken back: {}", sweep, e.getMessage());
        }
        done.accept(sweep, Optional.of(why));
    }

    /**
     * The first rows that a sweep would take.
     *
     * @param more whether there are others
     */
    public record Glance(List<Glanced> rows, boolean more) {}

    /** @param place in the roster, from 1 */
    public record Glanced(int place, Map<String, String> values) {}

    /**
     * Looks at the first rows without beginning anything.
     *
     * @throws RuntimeException where rows cannot be had or do not fit the job; its message is for people
     */
    public Glance glance(RosterRecord record, Job job, Bindings known, int most) {
        Roster roster = rosters.current(record);
        var rows = new ArrayList<Glanced>();
        if (roster.source().isPresent()) {
            source.glance(roster, roster.source().get().fill(known), job, values -> {
                rows.add(new Glanced(rows.size() + 1, values));
                return rows.size() <= most;
            });
        } else {
            written.each(record, row -> {
                if (row.included() && rows.size() <= most) {
                    rows.add(new Glanced(row.place(), row.values()));
                }
            });
        }
        if (!rows.isEmpty()) {
            checkColumns(job, rows.get(0).values());
        }
        return new Glance(rows.stream().limit(most).toList(), rows.size() > most);
    }

    /** Brings the rows of a sweep together at once, on the caller's thread and in its transaction where there is one. */
    public void draw(long number) {
        transaction.executeWithoutResult(status -> sweeps.beginAgain(number));
        SweepRecord sweep = sweeps.of(number);
        Run run = runs.find(number).orElseThrow();
        Job job = runs.jobOf(run);
        Roster roster = rosters.current(rosters.withId(sweep.rosterId()));
        var rows = new Rows(sweep, roster, job);
        Optional<SweepRequest.RowsOfRun> others = SweepRequest.ofRun(sweep.selection());
        if (others.isPresent()) {
            ofAnother(others.get(), job, sweep, rows);
        } else if (sweep.selection().equals(SweepRequest.FAILED)) {
            sweeps.eachFailedBefore(sweep, rows::add);
        } else if (roster.source().isPresent()) {
            source.draw(
                    roster,
                    roster.source()
                            .get()
                            .fill(values.known(run).typed(job.parameters().kinds())),
                    job,
                    run,
                    values -> rows.add(new Sweeps.Drawn(values, 0, true)));
        } else {
            written.each(
                    rosters.withId(sweep.rosterId()),
                    row -> rows.add(new Sweeps.Drawn(row.values(), row.place(), row.included())));
        }
        rows.end();
    }

    /** The rows of another sweep; for another job with as much of them, and of what they gave, as it has parameters for. */
    private void ofAnother(SweepRequest.RowsOfRun those, Job job, SweepRecord sweep, Rows rows) {
        if (sweeps.of(those.run()).jobId() == sweep.jobId()) {
            sweeps.each(those, row -> rows.add(new Sweeps.Drawn(row.values(), row.origin(), true)));
            return;
        }
        sweeps.each(those, row -> {
            Map<String, String> values = new LinkedHashMap<>(
                    row.runNumber().flatMap(runs::find).map(Run::results).orElse(Map.of()));
            values.putAll(row.values());
            values.keySet().removeIf(name -> job.parameters()
                    .named(name)
                    .filter(parameter -> !parameter.isSecret())
                    .isEmpty());
            rows.add(new Sweeps.Drawn(values, row.origin(), true));
        });
    }

    private static void checkColumns(Job job, Map<String, String> values) {
        List<String> names = job.parameters().names();
        for (String column : values.keySet()) {
            if (!names.contains(column)) {
                throw new InvalidException(
                        "column",
                        "'" + column + "' is no parameter of " + job.name() + "; there are " + String.join(", ", names)
                                + Nearest.hint(column, names));
            }
            if (job.parameters().named(column).filter(Parameter::isSecret).isPresent()) {
                // rows are kept as they are, for all who may see the run
                throw new InvalidException(
                        "column", "'" + column + "' is a secret, which rows cannot hold; give it at the start");
            }
        }
    }

    /** Takes rows as they come and writes them in batches. */
    private final class Rows {
        private final SweepRecord sweep;
        private final Roster roster;
        private final Job job;
        private final List<int[]> chosen;
        private final List<Sweeps.Drawn> batch = new ArrayList<>();
        private int seen;
        private int written;

        private Rows(SweepRecord sweep, Roster roster, Job job) {
            this.sweep = sweep;
            this.roster = roster;
            this.job = job;
            String selection = sweep.selection();
            boolean places = SweepRequest.isPlaces(selection);
            this.chosen = places ? Sweeps.places(selection) : List.of(new int[] {1, Integer.MAX_VALUE});
        }

        private void add(Sweeps.Drawn row) {
            int place = ++seen;
            if (place == 1) {
                checkColumns(job, row.values());
            }
            if (chosen.stream().noneMatch(range -> place >= range[0] && place <= range[1])) {
                return;
            }
            if (written + batch.size() >= most) {
                throw new InvalidException("rows", "the roster gives more than " + most + " rows, which is the limit");
            }
            batch.add(row);
            if (batch.size() >= Sweeps.BATCH) {
                write();
            }
        }

        private void write() {
            List<Sweeps.Drawn> now = List.copyOf(batch);
            batch.clear();
            transaction.executeWithoutResult(status -> sweeps.write(sweep, roster.memory(), written + 1, now));
            written += now.size();
        }

        private void end() {
            chosen.stream()
                    .filter(range -> range[0] > Math.max(1, seen))
                    .findFirst()
                    .ifPresent(range -> {
                        throw Sweeps.noRow(range[0], seen);
                    });
            write();
            transaction.executeWithoutResult(status -> sweeps.drawn(sweep.runNumber()));
        }
    }

    @Override
    public void destroy() {
        threads.shutdown();
    }
}
