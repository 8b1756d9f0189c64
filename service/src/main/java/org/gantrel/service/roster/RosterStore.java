package org.gantrel.service.roster;

import java.util.List;
import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Query;

interface RosterStore extends JpaRepository<RosterRecord, Long> {

    @Query("select r from RosterRecord r join fetch r.team where r.name = :name and r.retired = false")
    Optional<RosterRecord> named(String name);

    Optional<RosterRecord> findByName(String name);

    @Query("select r from RosterRecord r join fetch r.team where r.retired = false order by r.name")
    List<RosterRecord> inUse();
}
