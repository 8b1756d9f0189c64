package org.gantrel.service.job;

import java.util.List;
import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;

interface JobRevisionStore extends JpaRepository<JobRevision, Long> {

    Optional<JobRevision> findByJobIdAndRevision(long jobId, int revision);

    List<JobRevision> findTop100ByJobIdOrderByRevisionDesc(long jobId);
}
