package org.gantrel.service.run;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import java.time.Instant;

/** A start that was asked for under an Idempotency-Key: asked for again, it is answered with the same run. */
@Entity
final class StartKey {

    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    private Long id;

    private String person;
    private String startKey;
    private String requestHash;
    private Long runNumber;
    private Instant madeAt;

    protected StartKey() {}

    StartKey(String person, String startKey, String requestHash, long runNumber, Instant madeAt) {
        this.person = person;
        this.startKey = startKey;
        this.requestHash = requestHash;
        this.runNumber = runNumber;
        this.madeAt = madeAt;
    }

    String requestHash() {
        return requestHash;
    }

    long runNumber() {
        return runNumber;
    }
}
