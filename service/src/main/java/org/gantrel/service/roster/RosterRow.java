package org.gantrel.service.roster;

import jakarta.persistence.Entity;
import jakarta.persistence.EnumType;
import jakarta.persistence.Enumerated;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.run.RunState;

/** A row that is written down, with what became of it last. Its id is made of its roster and its place, from 1. */
@Entity
@Table(name = "roster_row")
final class RosterRow {

    @Id
    private Long id;

    private String rowValues;
    private boolean included;

    @Enumerated(EnumType.STRING)
    private RunState lastState;

    private Long lastRun;

    protected RosterRow() {}

    RosterRow(long roster, int place, Map<String, String> values, boolean included) {
        this.id = RowIds.id(roster, place);
        this.rowValues = RowIds.text(values);
        this.included = included;
    }

    /** What became of it last stays: who mends a row that failed wants to run it as one that failed. */
    void change(Map<String, String> fresh, Optional<Boolean> yes) {
        rowValues = RowIds.text(with(fresh));
        included = yes.orElse(included);
    }

    /** Its values with others in the place of some. */
    Map<String, String> with(Map<String, String> fresh) {
        var all = new LinkedHashMap<>(values());
        all.putAll(fresh);
        return all;
    }

    void include(boolean yes) {
        included = yes;
    }

    void ended(RunState state, long run) {
        lastState = state;
        lastRun = run;
    }

    int place() {
        return RowIds.place(id);
    }

    Map<String, String> values() {
        return RowIds.values(rowValues);
    }

    boolean isIncluded() {
        return included;
    }

    Optional<RunState> lastState() {
        return Optional.ofNullable(lastState);
    }

    Optional<Long> lastRun() {
        return Optional.ofNullable(lastRun);
    }
}
