package org.gantrel.service.signin;

import jakarta.persistence.Entity;
import jakarta.persistence.EnumType;
import jakarta.persistence.Enumerated;
import jakarta.persistence.FetchType;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.ManyToOne;
import java.time.Instant;
import org.gantrel.service.team.Person;

/** What a person shows instead of a password. Only its hash is kept, so that reading the database gives nobody away. */
@Entity
final class AccessToken {

    /** A session is a browser's, in a cookie; a token is a program's, in a header. */
    enum Kind {
        SESSION,
        TOKEN
    }

    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    private Long id;

    @ManyToOne(fetch = FetchType.LAZY)
    private Person person;

    @Enumerated(EnumType.STRING)
    private Kind kind;

    private String name;
    private String hash;
    private Instant madeAt;
    private Instant expiresAt;
    private Instant lastUsedAt;

    protected AccessToken() {}

    AccessToken(Person person, Kind kind, String name, String hash, Instant madeAt, Instant expiresAt) {
        this.person = person;
        this.kind = kind;
        this.name = name;
        this.hash = hash;
        this.madeAt = madeAt;
        this.expiresAt = expiresAt;
    }

    Long id() {
        return id;
    }

    Person person() {
        return person;
    }

    Kind kind() {
        return kind;
    }

    String name() {
        return name;
    }

    Instant madeAt() {
        return madeAt;
    }

    Instant expiresAt() {
        return expiresAt;
    }

    Instant lastUsedAt() {
        return lastUsedAt;
    }
}
