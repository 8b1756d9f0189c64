package org.gantrel.service.run;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.SequenceGenerator;
import java.time.Instant;

/** One line of a run's timeline. */
@Entity
final class RunMoment {

    private static final int LONGEST = 400;

    @Id
    // numbers that are known before the insert let many be inserted at once
    @GeneratedValue(strategy = GenerationType.SEQUENCE, generator = "run_moment_id")
    @SequenceGenerator(name = "run_moment_id", sequenceName = "run_moment_id", allocationSize = 100)
    private Long id;

    private Long runNumber;
    private Instant at;
    private String what;

    protected RunMoment() {}

    RunMoment(long runNumber, Instant at, String what) {
        this.runNumber = runNumber;
        this.at = at;
        this.what = what.length() <= LONGEST ? what : what.substring(0, LONGEST - 3) + "...";
    }

    Instant at() {
        return at;
    }

    String what() {
        return what;
    }
}
