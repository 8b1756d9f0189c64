package org.gantrel.service.sweep;

import jakarta.persistence.Entity;
import jakarta.persistence.EnumType;
import jakarta.persistence.Enumerated;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.run.RunState;
import org.gantrel.service.roster.RowIds;

/** A row of one sweep, from the drawing on. Its id is made of the sweep and its place. */
@Entity
@Table(name = "sweep_row")
public final class SweepRow {

    private static final int LONGEST_MESSAGE = 300;

    /** How far a row is. */
    public enum Fate {
        PENDING,
        STARTED,
        LEFT_OUT,
        NOT_REACHED,
        SUCCEEDED,
        WARNED,
        FAILED;

        public String word() {
            return name().toLowerCase(Locale.ROOT).replace('_', '-');
        }

        static Fate of(RunState state) {
            return switch (state) {
                case SUCCEEDED -> SUCCEEDED;
                case WARNED -> WARNED;
                // what was waited for did not come, and the job says that it is to be left then
                case SKIPPED -> LEFT_OUT;
                default -> FAILED;
            };
        }
    }

    @Id
    private Long id;

    private String rowValues;
    private int origin;

    @Enumerated(EnumType.STRING)
    private Fate state;

    private Long runNumber;
    private String message;

    protected SweepRow() {}

    /** @param origin the row's place in the roster where that is written down; 0 where it was drawn */
    SweepRow(long sweep, int place, Map<String, String> values, int origin, String leftOut) {
        this.id = RowIds.id(sweep, place);
        this.rowValues = RowIds.text(values);
        this.origin = origin;
        this.state = leftOut.isEmpty() ? Fate.PENDING : Fate.LEFT_OUT;
        this.message = leftOut;
    }

    void started(long run) {
        state = Fate.STARTED;
        runNumber = run;
    }

    void ended(long run, RunState how, String why) {
        runNumber = run;
        state = Fate.of(how);
        message = why.length() <= LONGEST_MESSAGE ? why : why.substring(0, LONGEST_MESSAGE - 3) + "...";
    }

    public int place() {
        return RowIds.place(id);
    }

    public Map<String, String> values() {
        return RowIds.values(rowValues);
    }

    int origin() {
        return origin;
    }

    Fate state() {
        return state;
    }

    Optional<Long> runNumber() {
        return Optional.ofNullable(runNumber);
    }

    String message() {
        return message;
    }
}
