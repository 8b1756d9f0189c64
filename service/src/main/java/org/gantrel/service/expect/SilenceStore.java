package org.gantrel.service.expect;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Modifying;
import org.springframework.data.jpa.repository.Query;

interface SilenceStore extends JpaRepository<SilenceRecord, Long> {

    List<SilenceRecord> findByEndedAtIsNullOrderById();

    Optional<SilenceRecord> findFirstByJobIdAndWhatAndEndedAtIsNull(long job, String what);

    @Modifying
    @Query("delete from SilenceRecord s where s.endedAt < :before")
    int thin(Instant before);
}
