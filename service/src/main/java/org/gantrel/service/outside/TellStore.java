package org.gantrel.service.outside;

import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;

interface TellStore extends JpaRepository<Tell, Long> {

    Optional<Tell> findFirstByJobIdAndTellKeyOrderByRunNumberDesc(long job, String key);
}
