package org.gantrel.service.hold;

import java.util.Collection;
import java.util.List;
import org.springframework.data.domain.Limit;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Query;

interface HoldStore extends JpaRepository<HoldRecord, Long> {

    List<HoldRecord> findByEndedAtIsNullOrderById();

    /** Those of the whole service, of some teams, and of some lanes. */
    @Query(
            """
            select h from HoldRecord h where h.id < :before and (h.scope = org.gantrel.service.hold.Hold$Scope.SERVICE
            or h.teamId in :teams or h.scope = org.gantrel.service.hold.Hold$Scope.LANE and h.name in :lanes)
            order by h.id desc""")
    List<HoldRecord> before(long before, Collection<Long> teams, Collection<String> lanes, Limit limit);
}
