package org.gantrel.service.hold;

import java.util.List;
import org.springframework.data.domain.Limit;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Query;

interface HoldStore extends JpaRepository<HoldRecord, Long> {

    List<HoldRecord> findByEndedAtIsNullOrderById();

    @Query("select h from HoldRecord h where h.id < :before order by h.id desc")
    List<HoldRecord> before(long before, Limit limit);
}
