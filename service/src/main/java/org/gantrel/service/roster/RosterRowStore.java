package org.gantrel.service.roster;

import java.util.List;
import org.springframework.data.domain.Limit;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Modifying;
import org.springframework.data.jpa.repository.Query;

interface RosterRowStore extends JpaRepository<RosterRow, Long> {

    @Query("select r from RosterRow r where r.id > :after and r.id < :end order by r.id")
    List<RosterRow> page(long after, long end, Limit limit);

    @Query("select count(r) from RosterRow r where r.id > :after and r.id < :end")
    int countBetween(long after, long end);

    @Query("select coalesce(max(r.id), 0) from RosterRow r where r.id > :after and r.id < :end")
    long lastBetween(long after, long end);

    @Modifying
    @Query("delete from RosterRow r where r.id > :after and r.id < :end")
    void deleteBetween(long after, long end);
}
