package org.gantrel.service.calendar;

import java.util.List;
import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;
import org.springframework.data.jpa.repository.Query;

interface CalendarStore extends JpaRepository<CalendarRecord, Long> {

    @Query("select c from CalendarRecord c join fetch c.team where c.name = :name")
    Optional<CalendarRecord> named(String name);

    @Query("select c from CalendarRecord c join fetch c.team where c.retired = false order by c.name")
    List<CalendarRecord> inUse();
}
