package org.gantrel.service.sweep;

import jakarta.persistence.Column;
import jakarta.persistence.Convert;
import jakarta.persistence.Entity;
import jakarta.persistence.EnumType;
import jakarta.persistence.Enumerated;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.util.EnumMap;
import java.util.Map;
import org.gantrel.core.roster.Roster.AfterFailure;
import org.gantrel.service.run.ValuesColumn;
import org.gantrel.service.sweep.SweepRow.Fate;

/** What a run over a roster is beside a run: which rows, how many at once, how far its rows are drawn. */
@Entity
@Table(name = "sweep")
public final class SweepRecord {

    @Id
    private Long runNumber;

    private long rosterId;
    private long jobId;
    private String selection;
    private int atOnce;

    @Enumerated(EnumType.STRING)
    private AfterFailure afterFailure;

    private boolean drawn;
    private int total;
    private int leftOut;

    // these are only ever counted up and down where they stand
    @Column(updatable = false)
    private int started;

    @Column(updatable = false)
    private int succeeded;

    @Column(updatable = false)
    private int warned;

    @Column(updatable = false)
    private int failed;

    @Column(updatable = false)
    private int notReached;

    @Column(updatable = false)
    @Convert(converter = ValuesColumn.class)
    private Map<String, String> sums = Map.of();

    protected SweepRecord() {}

    /** @param sums what those rows gave that it stands for as well */
    SweepRecord(
            long runNumber,
            long rosterId,
            long jobId,
            String selection,
            int atOnce,
            AfterFailure afterFailure,
            Map<String, String> sums) {
        this.sums = sums;
        this.runNumber = runNumber;
        this.rosterId = rosterId;
        this.jobId = jobId;
        this.selection = selection;
        this.atOnce = atOnce;
        this.afterFailure = afterFailure;
    }

    void beginAgain() {
        total = 0;
        leftOut = 0;
    }

    void add(int rows, int without) {
        total += rows;
        leftOut += without;
    }

    void drawn() {
        drawn = true;
    }

    /** How many of its rows are how far; those that no row is in are left out. */
    Map<Fate, Integer> counts() {
        var counts = new EnumMap<Fate, Integer>(Fate.class);
        counts.put(Fate.PENDING, total - leftOut - started - succeeded - warned - failed - notReached);
        counts.put(Fate.STARTED, started);
        counts.put(Fate.LEFT_OUT, leftOut);
        counts.put(Fate.NOT_REACHED, notReached);
        counts.put(Fate.SUCCEEDED, succeeded);
        counts.put(Fate.WARNED, warned);
        counts.put(Fate.FAILED, failed);
        counts.values().removeIf(count -> count == 0);
        return counts;
    }

    /** What its rows gave together ({@link org.gantrel.core.sweep.Sums}). */
    Map<String, String> sums() {
        return sums;
    }

    public long runNumber() {
        return runNumber;
    }

    public long rosterId() {
        return rosterId;
    }

    public long jobId() {
        return jobId;
    }

    String selection() {
        return selection;
    }

    public int atOnce() {
        return atOnce;
    }

    public AfterFailure afterFailure() {
        return afterFailure;
    }

    public boolean isDrawn() {
        return drawn;
    }

    public int total() {
        return total;
    }
}
