package org.gantrel.service.notification;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import java.util.Optional;

/** Somebody wants to be told of a job whatever the rules say, or does not want to be. */
@Entity
@Table(name = "person_interest")
final class PersonInterest {

    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    private Long id;

    private String person;
    private String job;
    private boolean follows;
    private Instant untilAt;

    protected PersonInterest() {}

    PersonInterest(String person, String job) {
        this.person = person;
        this.job = job;
    }

    void say(boolean wants, Instant until) {
        follows = wants;
        untilAt = until;
    }

    String person() {
        return person;
    }

    String job() {
        return job;
    }

    boolean follows() {
        return follows;
    }

    Optional<Instant> until() {
        return Optional.ofNullable(untilAt);
    }

    boolean holdsAt(Instant now) {
        return untilAt == null || now.isBefore(untilAt);
    }
}
