package org.gantrel.service.run;

import jakarta.persistence.Entity;
import jakarta.persistence.EnumType;
import jakarta.persistence.Enumerated;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;

/** What somebody wants of a run, until the engine has done it. */
@Entity
@Table(name = "run_wish")
final class Wish {

    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    private Long id;

    private Long runNumber;
    private String person;
    private Instant madeAt;

    @Enumerated(EnumType.STRING)
    private Wishes.Kind kind = Wishes.Kind.STOP;

    private String step = "";
    private String details = "";

    protected Wish() {}

    Wish(long runNumber, Wishes.Kind kind, String step, String details, String person, Instant madeAt) {
        this.step = step;
        this.details = details;
        this.kind = kind;
        this.runNumber = runNumber;
        this.person = person;
        this.madeAt = madeAt;
    }

    Wishes.Open value() {
        return new Wishes.Open(id, runNumber, kind, person, step, details);
    }
}
