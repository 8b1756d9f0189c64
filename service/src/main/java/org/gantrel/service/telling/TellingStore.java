package org.gantrel.service.telling;

import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;

interface TellingStore extends JpaRepository<TellingRecord, Long> {

    Optional<TellingRecord> findByKindAndName(String kind, String name);
}
