package org.gantrel.service.calendar;

import jakarta.persistence.Entity;
import jakarta.persistence.Table;
import java.time.Instant;
import org.gantrel.service.change.Revision;

/** What a calendar was defined as from one change to the next. */
@Entity
@Table(name = "calendar_revision")
final class CalendarRevision extends Revision {

    private Long calendarId;

    protected CalendarRevision() {}

    CalendarRevision(CalendarRecord calendar, String definition, String madeBy, Instant madeAt) {
        super(calendar.revision(), definition, madeBy, madeAt);
        this.calendarId = calendar.id();
    }
}
