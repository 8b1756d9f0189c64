package org.gantrel.service.roster;

import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;

interface RosterRevisionStore extends JpaRepository<RosterRevision, Long> {

    Optional<RosterRevision> findByRosterIdAndRevision(long rosterId, int revision);
}
