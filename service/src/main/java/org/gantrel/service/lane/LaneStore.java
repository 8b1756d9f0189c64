package org.gantrel.service.lane;

import java.util.List;
import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Query;

interface LaneStore extends JpaRepository<LaneRecord, Long> {

    @Query("select l from LaneRecord l join fetch l.team where l.name = :name and l.retired = false")
    Optional<LaneRecord> named(String name);

    Optional<LaneRecord> findByName(String name);

    @Query("select l from LaneRecord l join fetch l.team where l.retired = false order by l.name")
    List<LaneRecord> inUse();
}
