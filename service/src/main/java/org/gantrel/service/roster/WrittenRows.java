package org.gantrel.service.roster;

import jakarta.persistence.EntityManager;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import org.gantrel.core.access.Deed;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.problem.Problem;
import org.gantrel.core.roster.Roster;
import org.gantrel.core.roster.Roster.Row;
import org.gantrel.core.run.RunState;
import org.gantrel.core.text.Nearest;
import org.gantrel.core.text.Words;
import org.gantrel.service.change.Changes;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.team.Caller;
import org.springframework.data.domain.Limit;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Propagation;
import org.springframework.transaction.annotation.Transactional;

/** The rows of rosters that are written down. A row keeps its place, by which it is known, when others go. */
@Component
@Transactional
public class WrittenRows {

    private static final int BATCH = 500;
    private static final int LONGEST_ROW = 100_000;

    private final RosterRowStore rows;
    private final EntityManager entities;
    private final Changes changes;

    WrittenRows(RosterRowStore rows, EntityManager entities, Changes changes) {
        this.rows = rows;
        this.entities = entities;
        this.changes = changes;
    }

    /** A written row as a sweep takes it. */
    public record Written(int place, Map<String, String> values, boolean included) {}

    /**
     * What is to be different in a row.
     *
     * @param values those of some columns; the others stay
     * @param included nothing for as it was
     */
    record Edit(int place, Map<String, String> values, Optional<Boolean> included) {}

    /**
     * Edits of single rows, made together or not at all.
     *
     * @param added these go to the end
     * @param removed the places of those that go
     */
    record Edits(List<Edit> changed, List<Row> added, List<Integer> removed) {}

    /** Puts rows in the place of those that were there; says how many. */
    int replace(Caller caller, RosterRecord record, Iterator<Row> fresh) {
        record.changeRows(caller.name());
        rows.deleteBetween(RowIds.id(record.id(), 0), RowIds.id(record.id() + 1, 0));
        int place = 0;
        while (fresh.hasNext()) {
            if (place >= Roster.MOST_ROWS) {
                throw new InvalidException("rows", "more than " + Roster.MOST_ROWS + " rows are too many");
            }
            Row row = fresh.next();
            entities.persist(new RosterRow(record.id(), ++place, row.values(), row.included()));
            if (place % BATCH == 0) {
                entities.flush();
                entities.clear();
            }
        }
        return place;
    }

    /** The same, asked for by somebody who has looked at them. */
    int load(Caller caller, RosterRecord record, Roster roster, List<Row> fresh) {
        requireWritten(caller, record, roster);
        var problems = new ArrayList<Problem>();
        for (int i = 0; i < fresh.size(); i++) {
            checkLength(fresh.get(i).values(), "row " + (i + 1), problems);
        }
        if (!problems.isEmpty()) {
            throw new InvalidException(problems);
        }
        int count = replace(caller, record, fresh.iterator());
        note(caller, record, Words.count(count, "row"));
        return count;
    }

    /**
     * Makes edits.
     *
     * @throws InvalidException with all that is wrong; nothing is changed then
     */
    void edit(Caller caller, RosterRecord record, Roster roster, Edits edits) {
        requireWritten(caller, record, roster);
        var problems = new ArrayList<Problem>();
        edits.changed().forEach(edit -> {
            String where = "row " + edit.place();
            Map<String, String> values = checkPlace(record, edit.place(), where, problems)
                    .map(row -> row.with(edit.values()))
                    .orElse(edit.values());
            check(roster, edit.values(), where, problems);
            checkLength(values, where, problems);
        });
        edits.removed().forEach(place -> checkPlace(record, place, "row " + place, problems));
        for (int i = 0; i < edits.added().size(); i++) {
            Map<String, String> values = edits.added().get(i).values();
            check(roster, values, "new row " + (i + 1), problems);
            checkLength(values, "new row " + (i + 1), problems);
        }
        int last = lastPlace(record);
        if (last + edits.added().size() > Roster.MOST_ROWS) {
            problems.add(Problem.of("rows", "more than " + Roster.MOST_ROWS + " rows are too many"));
        }
        if (!problems.isEmpty()) {
            throw new InvalidException(problems);
        }
        for (Edit edit : edits.changed()) {
            row(record, edit.place()).change(edit.values(), edit.included());
        }
        for (Row row : edits.added()) {
            entities.persist(new RosterRow(record.id(), ++last, row.values(), row.included()));
        }
        rows.deleteAllById(edits.removed().stream()
                .map(place -> RowIds.id(record.id(), place))
                .toList());
        record.changeRows(caller.name());
        note(
                caller,
                record,
                Words.count(edits.changed().size(), "row") + " changed, "
                        + edits.added().size() + " added, " + edits.removed().size() + " removed");
    }

    private static void requireWritten(Caller caller, RosterRecord record, Roster roster) {
        caller.require(Deed.DEFINE_JOBS, record.team().name());
        if (roster.source().isPresent()) {
            throw new InvalidException(
                    "rows", "the rows of " + record.name() + " are drawn from data, not written down");
        }
    }

    private Optional<RosterRow> checkPlace(RosterRecord record, int place, String where, List<Problem> problems) {
        Optional<RosterRow> row =
                place < 1 || place > Roster.MOST_ROWS ? Optional.empty() : rows.findById(RowIds.id(record.id(), place));
        if (row.isEmpty()) {
            problems.add(Problem.of(where, "there is no such row"));
        }
        return row;
    }

    private static void check(Roster roster, Map<String, String> values, String where, List<Problem> problems) {
        for (String column : values.keySet()) {
            if (!roster.columns().contains(column)) {
                problems.add(Problem.of(
                        where,
                        "'" + column + "' is no column of the roster; there are " + String.join(", ", roster.columns())
                                + Nearest.hint(column, roster.columns())));
            }
        }
    }

    private static void checkLength(Map<String, String> values, String where, List<Problem> problems) {
        if (RowIds.text(values).length() > LONGEST_ROW) {
            problems.add(Problem.of(where, "is longer than " + LONGEST_ROW + " characters"));
        }
    }

    void include(Caller caller, RosterRecord record, int place, boolean yes) {
        caller.require(Deed.DEFINE_JOBS, record.team().name());
        row(record, place).include(yes);
        record.changeRows(caller.name());
        note(caller, record, "row " + place + (yes ? " included" : " left out"));
    }

    private void note(Caller caller, RosterRecord record, String what) {
        changes.record(caller, "changed", "roster", record.name(), record.team().name(), what);
    }

    private RosterRow row(RosterRecord record, int place) {
        return rows.findById(RowIds.id(record.id(), place))
                .orElseThrow(() -> Refusal.notFound("the roster " + record.name() + " has no row " + place));
    }

    private int lastPlace(RosterRecord record) {
        return RowIds.place(rows.lastBetween(RowIds.id(record.id(), 0), RowIds.id(record.id() + 1, 0)));
    }

    @Transactional(readOnly = true)
    List<RosterRow> page(RosterRecord record, int after, int most) {
        return rows.page(RowIds.id(record.id(), after), RowIds.id(record.id() + 1, 0), Limit.of(most));
    }

    @Transactional(readOnly = true)
    public int count(RosterRecord record) {
        return rows.countBetween(RowIds.id(record.id(), 0), RowIds.id(record.id() + 1, 0));
    }

    /**
     * Hands over every written row in order, a batch in memory at a time. Each batch is read in a transaction of its own,
     * since those who take the rows may write.
     */
    @Transactional(propagation = Propagation.NOT_SUPPORTED)
    public void each(RosterRecord record, Consumer<Written> each) {
        int after = 0;
        List<RosterRow> page = page(record, after, BATCH);
        while (!page.isEmpty()) {
            for (RosterRow row : page) {
                each.accept(new Written(row.place(), row.values(), row.isIncluded()));
                after = row.place();
            }
            page = page(record, after, BATCH);
        }
    }

    /** Notes what became of a written row. */
    public void ended(long roster, int place, RunState state, long run) {
        rows.findById(RowIds.id(roster, place)).ifPresent(row -> row.ended(state, run));
    }
}
