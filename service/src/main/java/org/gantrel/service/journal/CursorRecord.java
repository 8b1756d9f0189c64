package org.gantrel.service.journal;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;

/** How far a reader of the journal has come. */
@Entity
@Table(name = "journal_cursor")
final class CursorRecord {

    @Id
    private String reader;

    private long position;

    protected CursorRecord() {}

    CursorRecord(String reader, long position) {
        this.reader = reader;
        this.position = position;
    }

    long position() {
        return position;
    }

    void moveTo(long next) {
        position = next;
    }
}
