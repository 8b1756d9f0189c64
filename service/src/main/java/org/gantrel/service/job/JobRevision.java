package org.gantrel.service.job;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import java.time.Instant;

/** What a job did from one change to the next: its definition as it was written. Never changed. */
@Entity
class JobRevision {

    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    private Long id;

    private Long jobId;
    private int revision;
    private String definition;
    private String madeBy;
    private Instant madeAt;

    protected JobRevision() {}

    JobRevision(JobRecord job, String definition, String madeBy, Instant madeAt) {
        this.jobId = job.id();
        this.revision = job.revision();
        this.definition = definition;
        this.madeBy = madeBy;
        this.madeAt = madeAt;
    }

    int revision() {
        return revision;
    }

    String definition() {
        return definition;
    }

    String madeBy() {
        return madeBy;
    }

    Instant madeAt() {
        return madeAt;
    }
}
