package org.gantrel.service.notification;

import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import org.springframework.data.domain.Limit;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Modifying;
import org.springframework.data.jpa.repository.Query;

interface DeliveryStore extends JpaRepository<DeliveryRecord, Long> {

    @Query("select d from DeliveryRecord d where d.state = 'WAITING' and d.nextTryAt <= :now order by d.id")
    List<DeliveryRecord> due(Instant now, Limit limit);

    @Query("select d.runNumber from DeliveryRecord d where d.runNumber in :runs and d.state = 'WAITING'")
    List<Long> waiting(Collection<Long> runs);

    @Modifying
    @Query("delete from DeliveryRecord d where d.runNumber in :runs")
    void deleteOf(Collection<Long> runs);

    boolean existsByEventPosition(long position);

    @Query("select min(d.nextTryAt) from DeliveryRecord d where d.state = 'WAITING'")
    Optional<Instant> earliest();

    @Query("select d from DeliveryRecord d where d.id < :before and d.teamId in :teams order by d.id desc")
    List<DeliveryRecord> before(long before, Collection<Long> teams, Limit limit);
}
