package org.gantrel.service.telling;

import java.util.List;
import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Query;

interface TellingStore extends JpaRepository<TellingRecord, Long> {

    Optional<TellingRecord> findByKindAndName(String kind, String name);

    @Query("select t from TellingRecord t join fetch t.team where t.retired = false order by t.kind, t.name")
    List<TellingRecord> inUse();
}
