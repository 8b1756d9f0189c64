package org.gantrel.service.job;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Query;

interface JobRevisionStore extends JpaRepository<JobRevision, Long> {

    Optional<JobRevision> findByJobIdAndRevision(long jobId, int revision);

    Optional<JobRevision> findFirstByJobIdAndMadeAtLessThanEqualOrderByRevisionDesc(long jobId, Instant at);

    /** The first revision of a job that was made since a moment. */
    record First(Long job, Integer revision) {}

    @Query(
            """
            select new org.gantrel.service.job.JobRevisionStore$First(r.jobId, min(r.revision))
            from JobRevision r where r.madeAt >= :since group by r.jobId""")
    List<First> firstSince(Instant since);

    List<JobRevision> findTop100ByJobIdOrderByRevisionDesc(long jobId);
}
