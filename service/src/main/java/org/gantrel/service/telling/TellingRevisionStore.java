package org.gantrel.service.telling;

import java.util.List;
import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Query;

interface TellingRevisionStore extends JpaRepository<TellingRevision, Long> {

    Optional<TellingRevision> findByTellingIdAndRevision(long telling, int revision);

    List<TellingRevision> findByTellingIdOrderByRevisionDesc(long telling);

    /** What one that is in use is defined as. */
    record Kept(int revision, String definition) {}

    /** All that are in use, by kind and name, with one question. */
    @Query(
            "select new org.gantrel.service.telling.TellingRevisionStore$Kept(r.revision, r.definition) from TellingRecord t,"
                    + " TellingRevision r where r.tellingId = t.id and r.revision = t.revision and t.retired = false"
                    + " order by t.kind, t.name")
    List<Kept> inUse();
}
