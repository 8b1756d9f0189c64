package org.gantrel.service.sweep;

import jakarta.persistence.Entity;
import jakarta.persistence.EnumType;
import jakarta.persistence.Enumerated;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import org.gantrel.core.roster.Roster.AfterFailure;

/** What a run over a roster is beside a run: which rows, how many at once, how far its rows are drawn. */
@Entity
@Table(name = "sweep")
public class SweepRecord {

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

    protected SweepRecord() {}

    SweepRecord(long runNumber, long rosterId, long jobId, String selection, int atOnce, AfterFailure afterFailure) {
        this.runNumber = runNumber;
        this.rosterId = rosterId;
        this.jobId = jobId;
        this.selection = selection;
        this.atOnce = atOnce;
        this.afterFailure = afterFailure;
    }

    void drawn(int rows, int without) {
        drawn = true;
        total = rows;
        leftOut = without;
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

    public int leftOut() {
        return leftOut;
    }
}
