package org.gantrel.service.notification;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;

/** Up to when a digest has told. */
@Entity
@Table(name = "digest_told")
final class DigestTold {

    @Id
    private String name;

    private Instant toldUntil;

    protected DigestTold() {}

    DigestTold(String name, Instant until) {
        this.name = name;
        this.toldUntil = until;
    }

    void told(Instant until) {
        toldUntil = until;
    }

    Instant until() {
        return toldUntil;
    }
}
