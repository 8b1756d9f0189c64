package org.gantrel.service.telling;

import java.util.List;
import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;

interface TellingRevisionStore extends JpaRepository<TellingRevision, Long> {

    Optional<TellingRevision> findByTellingIdAndRevision(long telling, int revision);

    List<TellingRevision> findByTellingIdOrderByRevisionDesc(long telling);
}
