package org.gantrel.service.sweep;

import java.util.Collection;
import java.util.List;
import java.util.Optional;
import org.springframework.data.domain.Limit;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Modifying;
import org.springframework.data.jpa.repository.Query;

interface HandledStore extends JpaRepository<Handled, Long> {

    Optional<Handled> findByRosterIdAndJobIdAndRecordKey(long roster, long job, String key);

    List<Handled> findByRosterIdAndJobIdAndRecordKeyIn(long roster, long job, Collection<String> keys);

    @Query("select h from Handled h where h.rosterId = :roster and h.id > :after order by h.id")
    List<Handled> page(long roster, long after, Limit limit);

    @Modifying
    @Query("delete from Handled h where h.rosterId = :roster and (:key = '' or h.recordKey = :key)")
    int forget(long roster, String key);
}
