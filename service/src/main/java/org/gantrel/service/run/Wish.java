package org.gantrel.service.run;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;

/** What somebody wants of a run, until the engine has done it: for now always that it stops. */
@Entity
@Table(name = "run_wish")
final class Wish {

    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    private Long id;

    private Long runNumber;
    private String person;
    private Instant madeAt;

    protected Wish() {}

    Wish(long runNumber, String person, Instant madeAt) {
        this.runNumber = runNumber;
        this.person = person;
        this.madeAt = madeAt;
    }

    Wishes.Open value() {
        return new Wishes.Open(id, runNumber, person);
    }
}
