package org.gantrel.service.chain;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import org.gantrel.service.run.ChainSight;

/** What somebody did to a chain's run. */
@Entity
@Table(name = "chain_round")
class RoundRecord {

    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    private Long id;

    private Long runNumber;
    private int round;
    private String kind;
    private String step;
    private String person;
    private Instant at;
    private String note;

    protected RoundRecord() {}

    RoundRecord(long runNumber, int round, String kind, String step, String person, Instant at, String note) {
        this.runNumber = runNumber;
        this.round = round;
        this.kind = kind;
        this.step = step;
        this.person = person;
        this.at = at;
        this.note = note.length() > 1_000 ? note.substring(0, 1_000) : note;
    }

    int round() {
        return round;
    }

    ChainSight.Intervention view() {
        return new ChainSight.Intervention(
                round, kind, step.isEmpty() ? null : step, person, at, note.isEmpty() ? null : note);
    }
}
