package org.gantrel.service.job;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;

interface JobRevisionStore extends JpaRepository<JobRevision, Long> {

    Optional<JobRevision> findByJobIdAndRevision(long jobId, int revision);

    Optional<JobRevision> findFirstByJobIdAndMadeAtLessThanEqualOrderByRevisionDesc(long jobId, Instant at);

    List<JobRevision> findTop100ByJobIdOrderByRevisionDesc(long jobId);
}
