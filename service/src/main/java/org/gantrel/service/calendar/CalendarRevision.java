package org.gantrel.service.calendar;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;

/** What a calendar was defined as from some time on. Revisions are never changed. */
@Entity
@Table(name = "calendar_revision")
class CalendarRevision {

    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    private Long id;

    private Long calendarId;
    private int revision;
    private String definition;
    private String madeBy;
    private Instant madeAt;

    protected CalendarRevision() {}

    CalendarRevision(CalendarRecord calendar, String definition, String madeBy, Instant madeAt) {
        this.calendarId = calendar.id();
        this.revision = calendar.revision();
        this.definition = definition;
        this.madeBy = madeBy;
        this.madeAt = madeAt;
    }

    int revision() {
        return revision;
    }

    String definition() {
        return definition;
    }

    String madeBy() {
        return madeBy;
    }

    Instant madeAt() {
        return madeAt;
    }
}
