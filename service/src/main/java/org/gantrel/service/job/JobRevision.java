package org.gantrel.service.job;

import jakarta.persistence.Entity;
import jakarta.persistence.Table;
import java.time.Instant;
import org.gantrel.service.change.Revision;

/** What a job was defined as from one change to the next. */
@Entity
@Table(name = "job_revision")
final class JobRevision extends Revision {

    private Long jobId;

    protected JobRevision() {}

    JobRevision(JobRecord job, String definition, String madeBy, Instant madeAt) {
        super(job.revision(), definition, madeBy, madeAt);
        this.jobId = job.id();
    }
}
