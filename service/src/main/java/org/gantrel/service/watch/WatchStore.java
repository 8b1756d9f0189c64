package org.gantrel.service.watch;

import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;

interface WatchStore extends JpaRepository<WatchRecord, Long> {

    Optional<WatchRecord> findByJobIdAndTriggerName(long job, String trigger);
}
