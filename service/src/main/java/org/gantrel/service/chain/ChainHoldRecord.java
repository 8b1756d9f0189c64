package org.gantrel.service.chain;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import org.gantrel.service.run.ChainSight;

/** A chain's run that somebody holds: it begins no further step, and does not end. */
@Entity
@Table(name = "chain_hold")
class ChainHoldRecord {

    @Id
    private Long runNumber;

    private String person;
    private String why;
    private Instant since;

    protected ChainHoldRecord() {}

    ChainHoldRecord(long runNumber, String person, String why, Instant since) {
        this.runNumber = runNumber;
        this.person = person;
        this.why = why;
        this.since = since;
    }

    ChainSight.Held view() {
        return new ChainSight.Held(person, why.isEmpty() ? null : why, since);
    }
}
