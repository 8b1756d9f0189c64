package org.gantrel.service.change;

import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.MappedSuperclass;
import java.time.Instant;

/** What something was defined as from one change to the next: its definition as it was written. Never changed. */
@MappedSuperclass
public abstract class Revision {

    /** A revision as calls show it. */
    public record View(int revision, String madeBy, Instant madeAt, String definition) {}

    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    private Long id;

    private int revision;
    private String definition;
    private String madeBy;
    private Instant madeAt;
    /** Whether it came from a file; unknown for old ones. */
    private Boolean broughtIn;

    protected Revision() {}

    protected Revision(int revision, String definition, String madeBy, Instant madeAt) {
        this.revision = revision;
        this.definition = definition;
        this.madeBy = madeBy;
        this.madeAt = madeAt;
    }

    public String definition() {
        return definition;
    }

    public String madeBy() {
        return madeBy;
    }

    public Instant madeAt() {
        return madeAt;
    }

    public View view() {
        return new View(revision, madeBy, madeAt, definition);
    }
}
