package org.gantrel.service.sweep;

import jakarta.persistence.EntityManager;
import java.time.Clock;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.gantrel.core.job.Step.Which;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.roster.Roster;
import org.gantrel.core.roster.Roster.Memory;
import org.gantrel.core.run.Progress;
import org.gantrel.core.run.RunState;
import org.gantrel.core.sweep.Sums;
import org.gantrel.core.sweep.SweepCourse;
import org.gantrel.core.text.Words;
import org.gantrel.service.retention.LetsGo;
import org.gantrel.service.roster.RosterFacts;
import org.gantrel.service.roster.RosterRecord;
import org.gantrel.service.roster.Rosters;
import org.gantrel.service.roster.RowIds;
import org.gantrel.service.roster.WrittenRows;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.RunEnding;
import org.gantrel.service.run.RunsRead;
import org.gantrel.service.run.SweepBegun;
import org.gantrel.service.run.SweepPlanned;
import org.gantrel.service.run.SweepRequest;
import org.gantrel.service.run.SweepRequest.RowsOfRun;
import org.gantrel.service.run.SweepShare;
import org.gantrel.service.sweep.SweepRow.Fate;
import org.springframework.context.event.EventListener;
import org.springframework.data.domain.Limit;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Propagation;
import org.springframework.transaction.annotation.Transactional;

/** The ledger of sweeps: their rows, how far each is, and which records were handled already. */
@Component
@Transactional
public class Sweeps implements RosterFacts, LetsGo, SweepShare {

    static final int BATCH = 500;
    private static final String PLACES = "\\d{1,7}(-\\d{1,7})?(,\\s*\\d{1,7}(-\\d{1,7})?)*";

    private final SweepStore store;
    private final SweepRowStore rows;
    private final HandledStore handled;
    private final Tally tally;
    private final Rosters rosters;
    private final WrittenRows written;
    private final EntityManager entities;
    private final Clock clock;

    Sweeps(
            SweepStore store,
            SweepRowStore rows,
            HandledStore handled,
            Tally tally,
            Rosters rosters,
            WrittenRows written,
            EntityManager entities,
            Clock clock) {
        this.store = store;
        this.rows = rows;
        this.handled = handled;
        this.tally = tally;
        this.rosters = rosters;
        this.written = written;
        this.entities = entities;
        this.clock = clock;
    }

    /** Refuses a run over a roster that is not there, before anything of it is written. */
    @EventListener
    @Transactional(readOnly = true, noRollbackFor = InvalidException.class)
    void check(SweepPlanned planned) {
        SweepRequest over = planned.over();
        RosterRecord record = roster(over);
        String selection = over.rows().strip();
        if (!SweepRequest.isPlaces(selection)) {
            return;
        }
        if (!selection.matches(PLACES)) {
            throw new InvalidException(
                    "over.rows", "'" + selection + "': all, failed, or places such as 1,4-7 would be right");
        }
        if (rosters.current(record).source().isEmpty()) {
            int all = written.count(record);
            places(selection).stream()
                    .filter(range -> range[0] > all)
                    .findFirst()
                    .ifPresent(range -> {
                        throw noRow(range[0], all);
                    });
        }
    }

    private RosterRecord roster(SweepRequest over) {
        return rosters.named(over.roster())
                .filter(record -> !record.isRetired())
                .orElseThrow(() -> new InvalidException("over", "there is no roster '" + over.roster() + "'"));
    }

    /** Writes down what a run over a roster is beside a run, in the same transaction. */
    @EventListener
    @Transactional(propagation = Propagation.MANDATORY)
    void begun(SweepBegun begun) {
        SweepRequest over = begun.over();
        RosterRecord record = roster(over);
        String selection = over.rows().strip();
        Roster.Manner manner = rosters.current(record).manner();
        long job = begun.run().jobId();
        entities.persist(new SweepRecord(
                begun.run().number(),
                record.id(),
                job,
                selection,
                over.atOnce().orElse(manner.atOnce()),
                over.afterFailure().orElse(manner.afterFailure()),
                before(selection, job).map(SweepRecord::sums).orElse(Map.of())));
    }

    @Override
    public void letGo(List<Long> runs) {
        for (Long run : runs) {
            rows.deleteBetween(RowIds.id(run, 0), RowIds.id(run + 1, 0));
        }
        store.deleteOf(runs);
    }

    @Override
    @Transactional(readOnly = true)
    public Optional<Long> lastSweep(long roster) {
        return store.lastOf(roster);
    }

    @Transactional(readOnly = true)
    public SweepRecord of(long run) {
        return Optional.ofNullable(entities.find(SweepRecord.class, run)).orElseThrow();
    }

    /** A row on its way from its source into a sweep. */
    record Drawn(Map<String, String> values, int origin, boolean included) {}

    /** Forgets the rows of a drawing that did not come to its end. */
    void beginAgain(long sweep) {
        of(sweep).beginAgain();
        rows.deleteBetween(RowIds.id(sweep, 0), RowIds.id(sweep + 1, 0));
    }

    /** Writes a batch of drawn rows. */
    void write(SweepRecord sweep, Memory memory, int first, List<Drawn> batch) {
        Map<String, Handled> known = memory.isKept() ? known(sweep, memory, batch) : Map.of();
        int leftOut = 0;
        int place = first;
        for (Drawn row : batch) {
            String why = row.included() ? remembered(memory, known, row) : "left out in the roster";
            entities.persist(new SweepRow(sweep.runNumber(), place++, row.values(), row.origin(), why));
            leftOut += why.isEmpty() ? 0 : 1;
        }
        of(sweep.runNumber()).add(batch.size(), leftOut);
    }

    private Map<String, Handled> known(SweepRecord sweep, Memory memory, List<Drawn> batch) {
        List<String> keys =
                batch.stream().map(row -> memory.keyOf(row.values())).distinct().toList();
        return handled.findByRosterIdAndJobIdAndRecordKeyIn(sweep.rosterId(), sweep.jobId(), keys).stream()
                .collect(Collectors.toMap(Handled::recordKey, Function.identity()));
    }

    private String remembered(Memory memory, Map<String, Handled> known, Drawn row) {
        Handled before = known.get(memory.keyOf(row.values()));
        if (before == null || !before.recordState().equals(memory.stateOf(row.values()))) {
            return "";
        }
        boolean over = memory.period()
                .map(period -> !before.handledAt().plus(period).isAfter(clock.instant()))
                .orElse(false);
        return over ? "" : "handled already by run " + before.runNumber();
    }

    void drawn(long sweep) {
        of(sweep).drawn();
    }

    /**
     * Hands over the rows that ended badly in the sweep of the same job and roster before this one. Each batch is read in
     * a transaction of its own, since those who take the rows write.
     */
    @Transactional(propagation = Propagation.NOT_SUPPORTED)
    void eachFailedBefore(SweepRecord sweep, Consumer<Drawn> each) {
        List<SweepRecord> before = store.before(sweep.rosterId(), sweep.jobId(), sweep.runNumber(), Limit.of(1));
        before.forEach(last ->
                each(last.runNumber(), Fate.FAILED, row -> each.accept(new Drawn(row.values(), row.origin(), true))));
    }

    /**
     * Hands over the rows of one sweep. One that went on with the failed rows of another stands for that one as well: the
     * rows that had ended well there are among its good ones.
     */
    @Transactional(propagation = Propagation.NOT_SUPPORTED)
    void each(RowsOfRun those, Consumer<SweepRow> each) {
        if (those.which() != Which.GOOD) {
            each(those.run(), Fate.FAILED, each);
        }
        if (those.which() != Which.FAILED) {
            each(those.run(), Fate.SUCCEEDED, each);
            each(those.run(), Fate.WARNED, each);
            SweepRecord record = of(those.run());
            before(record.selection(), record.jobId())
                    .ifPresent(before -> each(new RowsOfRun(Which.GOOD, before.runNumber()), each));
        }
    }

    private void each(long sweep, Fate fate, Consumer<SweepRow> each) {
        List<SweepRow> page = page(sweep, 0, fate, BATCH);
        while (!page.isEmpty()) {
            page.forEach(each);
            page = page(sweep, page.get(page.size() - 1).place(), fate, BATCH);
        }
    }

    static InvalidException noRow(int place, int all) {
        return new InvalidException(
                "over.rows", "there is no row " + place + "; the roster has " + Words.count(all, "row"));
    }

    /** The next rows that wait. */
    @Transactional(readOnly = true)
    public List<SweepRow> next(long sweep, int most) {
        return page(sweep, 0, Fate.PENDING, most);
    }

    @Transactional(readOnly = true)
    List<SweepRow> page(long sweep, int after, Fate state, int most) {
        long from = RowIds.id(sweep, after);
        long end = RowIds.id(sweep + 1, 0);
        return state == null ? rows.page(from, end, Limit.of(most)) : rows.page(from, end, state, Limit.of(most));
    }

    /** How many rows have which fate; those that no row has are left out. */
    @Transactional
    Map<Fate, Integer> fates(long sweep) {
        tally.settle();
        SweepRecord record = of(sweep);
        entities.refresh(record);
        return record.counts();
    }

    @Override
    @Transactional
    public Optional<Progress> progress(long number) {
        SweepRecord sweep = of(number);
        if (!sweep.isDrawn()) {
            return Optional.empty();
        }
        SweepCourse.Counts counts = counts(number);
        int done = counts.succeeded() + counts.warned() + counts.failed();
        int all = done + counts.pending() + counts.underway() + counts.notReached();
        String failed = counts.failed() == 0 ? "" : ", " + counts.failed() + " failed";
        return Optional.of(new Progress(
                all == 0 ? Optional.empty() : Optional.of((double) done / all),
                done + " of " + Words.count(all, "row") + failed,
                Map.of()));
    }

    /**
     * What the rows gave together ({@link Sums}). A sweep that goes on with the failed rows of another stands for that one's
     * good ones too.
     */
    @Transactional
    public Map<String, String> sums(long sweep) {
        tally.settle();
        SweepRecord record = of(sweep);
        entities.refresh(record);
        return record.sums();
    }

    /** The sweep with whose failed rows another of the same job goes on; nothing where it does not. */
    private Optional<SweepRecord> before(String selection, long job) {
        return SweepRequest.ofRun(selection)
                .filter(rows -> rows.which() == Which.FAILED)
                .map(rows -> entities.find(SweepRecord.class, rows.run()))
                .filter(record -> record.jobId() == job);
    }

    /** How many rows are how far. */
    @Transactional
    public SweepCourse.Counts counts(long sweep) {
        Map<Fate, Integer> counts = fates(sweep);
        return new SweepCourse.Counts(
                counts.getOrDefault(Fate.PENDING, 0),
                counts.getOrDefault(Fate.STARTED, 0),
                counts.getOrDefault(Fate.SUCCEEDED, 0),
                counts.getOrDefault(Fate.WARNED, 0),
                counts.getOrDefault(Fate.FAILED, 0),
                counts.getOrDefault(Fate.LEFT_OUT, 0),
                counts.getOrDefault(Fate.NOT_REACHED, 0));
    }

    /** Notes that a row has its run now. */
    public void started(long sweep, int place, long run) {
        row(sweep, place).started(run);
        tally.move(sweep, Fate.PENDING, Fate.STARTED, 1);
    }

    @EventListener
    @Transactional(propagation = Propagation.MANDATORY)
    void readAhead(RunsRead read) {
        List<Long> ids = read.runs().stream()
                .filter(Run::isRow)
                .map(run -> RowIds.id(run.parent().orElseThrow(), Integer.parseInt(run.step())))
                .toList();
        if (!ids.isEmpty()) {
            rows.findAllById(ids);
        }
    }

    /** Notes how the run of a row ended, in the same transaction. */
    @EventListener
    @Transactional(propagation = Propagation.MANDATORY)
    void ended(RunEnding ended) {
        Run run = ended.run();
        if (!run.isRow()) {
            return;
        }
        SweepRecord sweep = of(run.parent().get());
        SweepRow row = row(sweep.runNumber(), Integer.parseInt(run.step()));
        Fate before = row.state();
        row.ended(run.number(), run.state(), run.message());
        tally.move(sweep.runNumber(), before, row.state(), 1);
        if (row.origin() > 0) {
            written.ended(sweep.rosterId(), row.origin(), run.state(), run.number());
        }
        boolean good = run.state() == RunState.SUCCEEDED || run.state() == RunState.WARNED;
        if (good && before == Fate.STARTED && !run.results().isEmpty()) {
            tally.give(sweep.runNumber(), run.results(), ended.gives().get());
        }
        Memory memory = rosters.current(rosters.withId(sweep.rosterId())).memory();
        if (good && memory.isKept()) {
            remember(sweep, memory, row.values(), run.number());
        }
    }

    private SweepRow row(long sweep, int place) {
        return Optional.ofNullable(entities.find(SweepRow.class, RowIds.id(sweep, place)))
                .orElseThrow();
    }

    private void remember(SweepRecord sweep, Memory memory, Map<String, String> values, long run) {
        String key = memory.keyOf(values);
        Handled record = handled.findByRosterIdAndJobIdAndRecordKey(sweep.rosterId(), sweep.jobId(), key)
                .orElseGet(() -> new Handled(sweep.rosterId(), sweep.jobId(), key));
        record.by(run, memory.stateOf(values), clock.instant());
        handled.save(record);
    }

    /** Rows that were not begun will not be. */
    public void giveUp(long sweep) {
        int given = rows.giveUp(RowIds.id(sweep, 0), RowIds.id(sweep + 1, 0));
        tally.move(sweep, Fate.PENDING, Fate.NOT_REACHED, given);
    }

    /** The first rows that ended badly, in words. */
    @Transactional(readOnly = true)
    public String firstFailed(long sweep, int most) {
        return page(sweep, 0, Fate.FAILED, most).stream()
                .map(row -> "row " + row.place() + " ("
                        + row.values().values().stream().limit(2).collect(Collectors.joining(", ")) + ")")
                .collect(Collectors.joining(", "));
    }

    @Transactional(readOnly = true)
    List<Handled> handled(long roster, long after, int most) {
        return handled.page(roster, after, Limit.of(most));
    }

    /** Forgets one record, or all where no key is given; says how many. */
    int forget(long roster, String key) {
        return handled.forget(roster, key);
    }

    /** Reads a selection such as 1,4-7. */
    static List<int[]> places(String selection) {
        var places = new ArrayList<int[]>();
        for (String part : selection.split(",")) {
            String[] ends = part.strip().split("-");
            places.add(new int[] {Integer.parseInt(ends[0]), Integer.parseInt(ends[ends.length - 1])});
        }
        return places;
    }

    /** The given values of a sweep with those of a row, which win. */
    public static Map<String, String> together(Map<String, String> given, SweepRow row) {
        var values = new LinkedHashMap<>(given);
        values.putAll(row.values());
        return values;
    }
}
