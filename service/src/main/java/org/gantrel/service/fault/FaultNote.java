package org.gantrel.service.fault;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;

/** What somebody has written about a fault, or done about it. */
@Entity
@Table(name = "fault_note")
final class FaultNote {

    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    private Long id;

    private long faultId;
    private Instant at;
    private String person;
    private String text;

    protected FaultNote() {}

    FaultNote(long fault, Instant at, String person, String text) {
        this.faultId = fault;
        this.at = at;
        this.person = person;
        this.text = text;
    }

    Instant at() {
        return at;
    }

    String person() {
        return person;
    }

    String text() {
        return text;
    }
}
