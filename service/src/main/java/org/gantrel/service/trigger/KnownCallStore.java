package org.gantrel.service.trigger;

import java.time.Instant;
import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Modifying;
import org.springframework.data.jpa.repository.Query;

interface KnownCallStore extends JpaRepository<KnownCall, Long> {

    Optional<KnownCall> findByJobIdAndTriggerNameAndCallKey(long job, String trigger, String key);

    @Modifying
    @Query("delete from KnownCall k where k.madeAt < :before")
    int thin(Instant before);
}
