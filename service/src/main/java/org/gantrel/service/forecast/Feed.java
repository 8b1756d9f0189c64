package org.gantrel.service.forecast;

import jakarta.persistence.Entity;
import jakarta.persistence.FetchType;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.ManyToOne;
import jakarta.persistence.Table;
import java.time.Instant;
import org.gantrel.service.team.Person;

/** An address under which a calendar program finds coming runs, with the rights of the person who made it. */
@Entity
@Table(name = "feed")
final class Feed {

    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    private Long id;

    @ManyToOne(fetch = FetchType.EAGER)
    private Person person;

    private String hash;
    private String team;
    private String job;
    private Instant madeAt;

    protected Feed() {}

    Feed(Person person, String hash, String team, String job, Instant madeAt) {
        this.person = person;
        this.hash = hash;
        this.team = team;
        this.job = job;
        this.madeAt = madeAt;
    }

    Long id() {
        return id;
    }

    Person person() {
        return person;
    }

    String team() {
        return team;
    }

    String job() {
        return job;
    }

    Instant madeAt() {
        return madeAt;
    }
}
