package org.gantrel.service.roster;

import java.util.List;
import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;

interface RosterRevisionStore extends JpaRepository<RosterRevision, Long> {

    Optional<RosterRevision> findByRosterIdAndRevision(long rosterId, int revision);

    List<RosterRevision> findTop100ByRosterIdOrderByRevisionDesc(long rosterId);
}
