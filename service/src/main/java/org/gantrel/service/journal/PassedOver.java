package org.gantrel.service.journal;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;

/** An event that a reader could not deal with yet, while it went on with those that came after. */
@Entity
@Table(name = "passed_over")
final class PassedOver {

    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    private Long id;

    private String reader;
    private long position;

    protected PassedOver() {}

    PassedOver(String reader, long position) {
        this.reader = reader;
        this.position = position;
    }

    long position() {
        return position;
    }
}
