package org.gantrel.service.sweep;

import java.util.List;
import org.gantrel.service.sweep.SweepRow.Fate;
import org.springframework.data.domain.Limit;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Modifying;
import org.springframework.data.jpa.repository.Query;

interface SweepRowStore extends JpaRepository<SweepRow, Long> {

    @Query("select r from SweepRow r where r.id > :after and r.id < :end order by r.id")
    List<SweepRow> page(long after, long end, Limit limit);

    // in the order of an index, so that rows of other fates are not walked through
    @Query("select r from SweepRow r where r.id > :after and r.id < :end and r.state = :state order by r.state, r.id")
    List<SweepRow> page(long after, long end, Fate state, Limit limit);

    @Modifying
    @Query("delete from SweepRow r where r.id > :after and r.id < :end")
    void deleteBetween(long after, long end);

    @Modifying
    @Query("update SweepRow r set r.state = 'NOT_REACHED' where r.id > :after and r.id < :end and r.state = 'PENDING'")
    int giveUp(long after, long end);
}
