package org.gantrel.service.fault;

import java.util.List;
import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;

interface FaultToldStore extends JpaRepository<FaultTold, Long> {

    List<FaultTold> findByFaultId(long fault);

    Optional<FaultTold> findByFaultIdAndRule(long fault, String rule);
}
