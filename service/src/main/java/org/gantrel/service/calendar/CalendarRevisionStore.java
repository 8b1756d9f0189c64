package org.gantrel.service.calendar;

import java.util.List;
import java.util.Optional;
import org.springframework.data.jpa.repository.JpaRepository;

interface CalendarRevisionStore extends JpaRepository<CalendarRevision, Long> {

    Optional<CalendarRevision> findByCalendarIdAndRevision(long calendarId, int revision);

    List<CalendarRevision> findTop100ByCalendarIdOrderByRevisionDesc(long calendarId);
}
